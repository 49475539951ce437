// The signals on the bench: what goes into the selected channel's chain, what comes out, and what
// that is held against.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/compared_chains.h"
#include "app/model/latest_beside.h"
#include "app/model/session.h"
#include "app/plot/sample_extremes.h"
#include "core/engine/live_keys.h"
#include "core/filter/filter.h"
#include "core/signal/spectrum.h"

#include <QObject>
#include <QString>
#include <array>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace syntonon {

// The compared ones are outputs of other chains. The difference is the output less the reference,
// as late as that is in it.
enum class Track { in, out, first_compared, second_compared, reference, difference };
inline constexpr std::array all_tracks = {
    Track::in,        Track::out,       Track::first_compared, Track::second_compared,
    Track::reference, Track::difference};
// Those that a chain makes.
inline constexpr std::array chain_tracks = {Track::out, Track::first_compared,
                                            Track::second_compared};
inline constexpr std::size_t most_compared = chain_tracks.size() - 1; // of more the first are seen
inline std::size_t index_of(Track track) {
    return static_cast<std::size_t>(track);
}
template <class T>
using PerTrack = std::array<T, all_tracks.size()>;

// Samples that several panes and threads look at.
class KeptSamples {
public:
    explicit KeptSamples(std::vector<double> values)
        : values_(std::move(values)), extremes_(std::make_shared<const SampleExtremes>(values_)) {}

    const std::vector<double>& values() const { return values_; }
    std::shared_ptr<const SampleExtremes> extremes() const { return extremes_; }

private:
    std::vector<double> values_;
    std::shared_ptr<const SampleExtremes> extremes_;
};
using SharedSamples = std::shared_ptr<const KeptSamples>;

// What is sent in while a channel has chosen no signal: an impulse of 64 samples.
Signal signal_of_itself();
// That of the selected channel, or the impulse.
Signal signal_sent(const Session& session);

// All of it at one moment, to be worked on in another thread.
struct BenchStretch {
    PerTrack<SharedSamples> tracks, tails;
    PerTrack<std::optional<Filter>> chains;   // that made them
    std::pair<std::size_t, std::size_t> span; // from <= n < to
    double rate_hz = 48000;

    // What of the track lies within the span.
    std::span<const double> values(Track track) const;
    std::span<const double> part_of(std::span<const double> all) const;
    std::size_t length() const { return span.second - span.first; }
};
// Those that work on such a stretch has to look at, tails included.
std::size_t samples_in(const BenchStretch& stretch);

// How a spectrum is best scaled for such a signal.
SpectrumScale usual_scale(const Recipe& recipe);

class BenchWork : public QObject {
    Q_OBJECT

public:
    // `folder` says where the study lies, for the files that it names.
    BenchWork(Session& session, std::function<std::filesystem::path()> folder,
              QObject* parent = nullptr);

    // Never null; empty where there is nothing, as for a channel without a reference.
    SharedSamples samples(Track track) const { return tracks_[index_of(track)]; }
    std::span<const double> values(Track track) const { return samples(track)->values(); }
    // What comes out of a chain after the signal's end while that stays at its last value.
    SharedSamples tail(Track track) const { return tails_[index_of(track)]; }
    double sample_rate_hz() const { return rate_hz_; }
    const Signal& signal() const { return signal_; }
    const Session& session() const { return session_; }
    QString word_for(Track track) const; // "in", or the name of what is compared
    QString name_of(Track track) const;
    // "take:<id>" or "channel:<id>", of a track that is compared; empty: none is.
    const std::string& compared(Track track) const { return keys_[index_of(track)]; }
    std::size_t length() const { return values(Track::in).size(); }

    // The chain as it is played: its modelled stages moved, notes in voices of their own.
    Filter as_heard(const Filter& chain, std::shared_ptr<const LiveKeys> keys = nullptr) const;

    // Why there is no such track; empty: there is one, or none is wished.
    const QString& problem(Track track) const { return problems_[index_of(track)]; }
    bool is_wished(Track track) const; // there, or to be said why not
    // Of files: that they have changed, were converted, go on.
    const QStringList& remarks() const { return remarks_; }
    bool is_busy() const;

    // The stretch that is looked at more closely: from <= n < to; nothing: all of it.
    using Span = std::pair<std::size_t, std::size_t>;
    std::optional<Span> span() const { return span_; }
    void set_span(std::optional<Span> span); // cut to the signal
    BenchStretch stretch() const;            // the span, or all
    Span span_or_all() const { return span_.value_or(Span(0, length())); }

    // Of a channel with a reference, worked out on request.
    bool shows_difference() const { return shows_difference_; }
    void show_difference(bool shows);

    // Work goes on only while somebody looks.
    void set_watched(bool watched);
    bool is_watched() const { return watched_; }

signals:
    void changed();      // any of the samples, names, problems
    void span_changed(); // also when the signal has become another one

private:
    struct Inputs {
        Expected<SharedSamples> in, reference;
        QStringList remarks;
    };
    void refresh();
    void make_inputs();
    void take_inputs(Inputs inputs);
    void run_chains();
    void run_chain(Track track);
    Expected<ChainCompared> chain_of(Track track) const;
    void leave_out(Track track, const QString& problem);
    void make_difference();
    void keep(Track track, const Expected<SharedSamples>& made);

    Session& session_;
    std::function<std::filesystem::path()> folder_;
    PerTrack<SharedSamples> tracks_, tails_;
    PerTrack<QString> problems_;
    PerTrack<std::string> keys_; // of what is compared
    QStringList remarks_;
    Signal signal_;
    QString reference_name_, channel_name_;
    double rate_hz_ = 48000;
    std::optional<Span> span_;
    bool watched_ = false, shows_difference_ = false;
    // What the inputs were made of, and what the output.
    struct Source {
        std::vector<SharedValue<Signal>> known;
        Bench bench;
        double rate_hz;
        std::filesystem::path folder;
        // What is compared with makes no other inputs.
        bool makes_same(const Source& other) const {
            return known == other.known && bench.signal == other.bench.signal
                   && bench.reference == other.bench.reference && rate_hz == other.rate_hz
                   && folder == other.folder;
        }
    };
    std::optional<Source> source_;
    struct ChainRun {
        explicit ChainRun(QObject* receiver) : work(receiver) {}
        std::optional<Filter> chain; // that was run last
        bool is_out_of_date = false; // see ChainCompared
        SharedSamples on;
        LatestBeside work;
    };
    static std::size_t run_index(Track track) { return index_of(track) - index_of(Track::out); }
    ChainRun& run_of(Track track) { return runs_.at(run_index(track)); }
    std::array<ChainRun, chain_tracks.size()> runs_{ChainRun(this), ChainRun(this), ChainRun(this)};
    LatestBeside making_{this}, differing_{this};
};

} // namespace syntonon
