// What is heard of the bench: the device, what is listened to, and how loud.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/model/latest_beside.h"
#include "app/model/save_sound.h"
#include "core/device/sound_device.h"
#include "core/engine/player.h"

#include <QObject>
#include <QString>
#include <QTimer>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// One that can be listened to.
struct ListenChoice {
    Heard heard = Heard::in;
    QString name;   // "in", "out", a take's
    std::string id; // as Bench::compared names it; empty: none of those

    bool operator==(const ListenChoice&) const = default;
};

class Listening : public QObject {
    Q_OBJECT

public:
    Listening(Session& session, BenchWork& bench, QObject* parent = nullptr);
    ~Listening() override;

    // Without a device it says so in problem(), and nothing plays.
    void play(bool plays);
    bool is_playing() const { return stream_ != nullptr && player_ != nullptr && plays_; }
    const QString& problem() const { return problem_; }
    std::size_t position() const { return player_ != nullptr ? player_->position() : 0; }

    // The signal, the chain's output, the reference and the difference where there is one, the
    // takes, and the channels that it is compared with.
    const std::vector<ListenChoice>& choices() const { return choices_; }
    std::size_t chosen() const { return chosen_; }
    void choose(std::size_t index);
    // For a blind comparison: what is chosen stays, and chosen() no longer tells what is heard.
    void choose_hidden(std::size_t index);
    bool is_hidden() const { return hidden_; }

    QString signal_name() const { return bench_.name_of(Track::in); }
    // The chosen one as a sound file: from the signal's beginning, at its own level. Says how it
    // went through `saving`.
    void save_chosen(SaveSound& saving, const QString& path, const SoundFormatWish& wish) const;

    bool loops() const { return loops_; }
    void set_loops(bool loops);
    // All as loud as the quietest of them (ITU-R BS.1770).
    bool is_matched() const { return matched_; }
    void set_matched(bool matched);
    double gain_db(std::size_t choice) const; // with which it is heard
    // Of a program that has just been started it is quiet.
    double volume_db() const { return volume_db_; }
    void set_volume_db(double db);

    QString device() const { return device_; } // empty: the default one
    unsigned frames() const { return frames_; }
    double rate_hz() const { return device_rate_hz_; } // of the device; 0: as suits the study
    void use_device(const QString& device, unsigned frames, double rate_hz);
    // "null sink, 48 kHz, 256 frames · load 2 %", of what plays.
    QString state_text() const;

    const PlayerMeters& meters() const { return meters_; }
    std::vector<double> last_played(std::size_t count) const;
    // Of what was played last: the level of a tone in dBFS by Hz, as many as are drawn.
    std::map<double, double> live_levels() const;
    // In place of the signal; nothing: the signal.
    void play_tone(std::optional<double> hz);
    // Keys that are played beside the notes of the signal.
    const std::shared_ptr<LiveKeys>& keys() const { return keys_; }
    // Blocks that came too late since it plays.
    unsigned dropouts() const { return stream_ != nullptr ? stream_->dropouts() : 0; }

signals:
    void changed(); // choices, what is chosen, playing, problems
    void ticked();  // position and meters, while it plays

private:
    void follow_signals();
    void follow_chains();
    void make_player();
    void open_stream();
    void tick();
    void send_chain(std::size_t index, const Expected<Filter>& filter);
    void send_loop();
    void send_all();
    // Commands are for one that renders: others would only pile up.
    Player* rendering() const { return stream_ != nullptr ? player_.get() : nullptr; }
    void send_gains();
    void measure_loudness();
    std::vector<ListenChoice> wanted_choices() const;
    Expected<Filter> chain_of(const ListenChoice& choice,
                              const std::shared_ptr<const LiveKeys>& keys) const;
    void fail(const QString& problem);

    Session& session_;
    BenchWork& bench_;
    std::shared_ptr<LiveKeys> keys_ = std::make_shared<LiveKeys>();
    std::unique_ptr<Player> player_; // outlives the stream
    std::unique_ptr<SoundStream> stream_;
    bool plays_ = false;
    QString problem_;
    std::vector<ListenChoice> choices_;
    std::size_t chosen_ = 1; // the output
    std::size_t heard_ = 1;  // what is heard: something else in a blind comparison
    bool hidden_ = false;
    std::vector<std::optional<Filter>> sent_; // by chain
    std::vector<QString> chain_problems_;
    SharedSamples played_in_, played_reference_;
    bool loops_ = true, matched_ = true;
    std::vector<double> gains_db_;    // by choice
    std::size_t reference_delay_ = 0; // of the difference
    double volume_db_ = -20;
    std::optional<double> tone_hz_;
    QString device_;
    unsigned frames_ = 256;
    double device_rate_hz_ = 0;
    PlayerMeters meters_;
    QTimer ticks_, closes_;
    std::optional<Filter> loudness_of_; // that was measured last
    LatestBeside loudness_{this};
};

} // namespace syntonon
