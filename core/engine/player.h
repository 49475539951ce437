// What is heard: a signal, what chains make of it, and what that is held against, switched and
// changed while it plays.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/one_way_ring.h"
#include "core/base/problem.h"
#include "core/engine/engine.h"

#include <array>
#include <atomic>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace syntonon {

class Filter;

// What one may listen to: the signal itself, the reference, the difference of the first chain and
// the reference, and chains by their number.
enum class Heard : int { in = 0, reference = 1, difference = 2, first_chain = 3 };
inline Heard chain_heard(std::size_t chain) {
    return static_cast<Heard>(static_cast<int>(Heard::first_chain) + static_cast<int>(chain));
}

struct PlayedSignals {
    std::shared_ptr<const std::vector<double>> in, reference; // the second may be empty
    std::size_t reference_delay = 0; // of the difference: by which the reference is taken later
};

struct PlayerMeters {
    double peak = 0, rms = 0;       // of what was played since the last look; full scale is 1
    std::uint64_t clipped = 0;      // samples that the limiter held back, in all
    double least_gain = 1;          // of the limiter, since the last look
    std::array<bool, 8> ran_away{}; // chains that were muted, until they are changed
};

// One thread controls it, another one renders; rendering allocates nothing and takes no lock.
// Everything that changes is faded over within fade_samples, so that nothing clicks: what is
// listened to, its gain, playing and stopping, and a chain for another one. A changed chain comes
// with the state that it would have had it been there all the time: it has run over what was played
// last before it is heard.
class Player {
public:
    static constexpr std::size_t most_chains = 8;
    static constexpr std::size_t fade_samples = 480;

    Player(PlayedSignals played, std::size_t chains);
    ~Player();
    Player(const Player&) = delete;
    Player& operator=(const Player&) = delete;

    // --- the controlling thread ---

    // Works out the engine and its state. Refused for an analog or unstable filter, whose chain is
    // silent from then on, and when changes come faster than they are taken.
    Expected<void> set_chain(std::size_t chain, const Filter& filter);
    // Silent from then on, until it is set again.
    void mute_chain(std::size_t chain);
    void play(bool plays);
    void go_to(std::size_t sample); // chains begin there from rest
    // From <= n < to, again and again; nothing: the whole signal once, or again and again.
    void set_loop(std::optional<std::pair<std::size_t, std::size_t>> span, bool repeats);
    void listen_to(Heard what);
    // By which the reference is taken later in the difference: as late as the first chain makes it.
    void set_reference_delay(std::size_t samples);
    // Of one of them: to match loudness.
    void set_gain(Heard what, double factor);
    void set_volume(double factor); // of all
    // A sine of half of full scale in place of the signal, at this share of the sample rate; it
    // glides from one to the next. Nothing: the signal again.
    void play_tone(std::optional<double> turns_per_sample);
    std::size_t position() const { return position_.load(std::memory_order_relaxed); }
    bool is_playing() const { return playing_.load(std::memory_order_relaxed); }
    PlayerMeters meters();
    // The last samples that were played, oldest first; no more than kept_samples.
    static constexpr std::size_t kept_samples = 1 << 14;
    std::vector<double> last_played(std::size_t count) const;
    // Frees what the other thread has done with; also done by set_chain().
    void collect();

    // --- the rendering thread ---

    void render(std::span<double> out) noexcept;

private:
    static constexpr std::size_t block = 256;
    static constexpr std::size_t heard_kinds = 3 + most_chains;

    struct Prepared { // an engine, and up to where in the signal it has run
        std::unique_ptr<Engine> engine;
        std::size_t chain = 0;
        std::size_t ran_to = 0;
    };
    struct Command {
        enum class Kind { chain, mute, play, go_to, loop, heard, gain, volume, tone, delay } kind;
        std::size_t index = 0, from = 0, to = 0;
        double value = 0;
        bool on = false;
        Prepared* prepared = nullptr;
    };
    // A value that goes to another one within fade_samples, beginning and ending level.
    struct Ramp {
        double now = 0, to = 0, from = 0;
        std::size_t left = 0; // samples
        void aim(double target) noexcept;
        void set(double value) noexcept { *this = {value, value, value, 0}; }
        double next() noexcept;
        bool is_silent() const noexcept { return now == 0 && to == 0; }
    };
    struct Chain {
        Prepared *heard = nullptr, *coming = nullptr, *waiting = nullptr;
        std::size_t faded = 0; // samples of the fade from heard to coming
        Ramp open{1, 1, 1, 0}; // closed while it is muted
    };

    void obey(const Command& command) noexcept;
    void take_chain(std::size_t index, Prepared* prepared) noexcept;
    void close_chain(std::size_t index) noexcept;
    void run_or_stop(bool runs) noexcept;
    void move_to(std::size_t sample) noexcept;
    void turn_to(std::size_t heard) noexcept;
    void glide_tone(double turns_per_sample, bool sounds) noexcept;
    void retire(Prepared* prepared) noexcept;
    void begin_fade(Chain& chain) noexcept;
    template <class Visit>
    void for_prepared(Visit visit) noexcept;
    void jump(std::size_t to) noexcept;
    bool closes_loop() const noexcept { return repeats_ && loop_to_ > loop_from_; }
    void catch_up(Prepared& coming, std::size_t start) noexcept;
    void add_tone(std::span<double> in) noexcept;
    void fetch(std::span<double> in, std::span<double> reference) noexcept;
    void run_chain(std::size_t index, std::span<const double> in, std::span<double> out) noexcept;
    void render_block(std::span<double> out) noexcept;
    void limit_and_meter(std::span<double> out) noexcept;
    bool send(const Command& command);
    double input_at(std::size_t position) const noexcept;

    PlayedSignals signals_;
    std::size_t chain_count_;
    OneWayRing<Command, 256> commands_;
    OneWayRing<Prepared*, 1024> retired_;

    // the rendering thread's
    std::array<Chain, most_chains> chains_;
    std::array<Ramp, heard_kinds> heard_;  // how much of each
    std::array<double, heard_kinds> gain_; // to match loudness
    Ramp master_;
    double volume_ = 1;
    Ramp tone_;                            // how much of it is there
    double tone_at_ = 0;                   // turns
    double tone_step_ = 0, glides_to_ = 0; // turns a sample
    std::size_t at_ = 0, loop_from_ = 0, loop_to_ = 0;
    bool repeats_ = false, runs_ = false, wished_ = false; // the last: playing
    std::optional<std::size_t> jump_to_;                   // as soon as it is silent
    std::vector<double> in_, reference_, chain_out_, fading_, mix_;
    std::array<std::vector<double>, most_chains> outs_;
    double limiter_gain_ = 1, limiter_release_;
    Heard listened_ = Heard::in;

    // seen from both
    std::atomic<std::size_t> position_ = 0;
    std::atomic<bool> playing_ = false;
    std::atomic<double> peak_ = 0, least_gain_ = 1, squares_ = 0;
    std::atomic<std::uint64_t> counted_ = 0, clipped_ = 0;
    std::array<std::atomic<bool>, most_chains> ran_away_{};
    std::vector<std::atomic<float>> played_;
    std::atomic<std::size_t> played_count_ = 0;
};

} // namespace syntonon
