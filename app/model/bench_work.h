// The signals on the bench: what goes into the selected channel's chain, what comes out, and what
// that is held against.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/latest_beside.h"
#include "app/model/session.h"
#include "app/plot/sample_extremes.h"
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

// The difference is the output less the reference, as late as that is in it.
enum class Track { in, out, reference, difference };
inline constexpr std::array all_tracks = {Track::in, Track::out, Track::reference,
                                          Track::difference};
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
    PerTrack<SharedSamples> tracks;
    SharedSamples tail;
    std::pair<std::size_t, std::size_t> span; // from <= n < to
    double rate_hz = 48000;

    // What of the track lies within the span.
    std::span<const double> values(Track track) const;
    std::size_t length() const { return span.second - span.first; }
};

// How a spectrum is best scaled for such a signal.
SpectrumScale usual_scale(const Recipe& recipe);

class BenchWork : public QObject {
    Q_OBJECT

public:
    // `folder` says where the study lies, for the files that it names.
    BenchWork(Session& session, std::function<std::filesystem::path()> folder,
              QObject* parent = nullptr);

    // Never null; empty where there is nothing, as for a channel without a reference.
    SharedSamples samples(Track track) const { return tracks_[index(track)]; }
    std::span<const double> values(Track track) const { return samples(track)->values(); }
    // What comes out after the signal's end while that stays at its last value.
    SharedSamples tail() const { return tail_; }
    double sample_rate_hz() const { return rate_hz_; }
    const Signal& signal() const { return signal_; }
    QString name_of(Track track) const;
    std::size_t length() const { return values(Track::in).size(); }

    // Why there is no input, output or reference; empty: there is one, or none is wished.
    const QString& problem(Track track) const { return problems_[index(track)]; }
    // Of files: that they have changed, were converted, go on.
    const QStringList& remarks() const { return remarks_; }
    bool is_busy() const { return making_.is_busy() || running_.is_busy() || differing_.is_busy(); }

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
    static std::size_t index(Track track) { return static_cast<std::size_t>(track); }
    void refresh();
    void make_inputs();
    void take_inputs(Inputs inputs);
    void run_chain();
    void make_difference();
    void keep(Track track, const Expected<SharedSamples>& made);

    Session& session_;
    std::function<std::filesystem::path()> folder_;
    PerTrack<SharedSamples> tracks_;
    SharedSamples tail_;
    PerTrack<QString> problems_;
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
        bool operator==(const Source&) const = default;
    };
    std::optional<Source> source_;
    std::optional<Filter> ran_;
    SharedSamples ran_on_;
    LatestBeside making_{this}, running_{this}, differing_{this};
};

} // namespace syntonon
