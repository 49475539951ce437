// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/player.h"

#include "core/base/units.h"
#include "core/engine/filter_engine.h"
#include "core/engine/flush_denormals.h"
#include "core/engine/render.h"
#include "core/filter/filter.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr std::size_t most_catching_up = 4096; // samples in one block
constexpr double runaway = 100;                // 40 dB above full scale
constexpr double ceiling = 0.98;               // of the limiter
constexpr double release_samples = 9600;

std::size_t index_of(Heard what) {
    return static_cast<std::size_t>(what);
}

// 0 to 1 without a bend at its ends.
double smooth(std::size_t done) {
    const double t = static_cast<double>(done) / static_cast<double>(Player::fade_samples);
    return t >= 1 ? 1 : t * t * (3 - 2 * t);
}

} // namespace

void Player::Ramp::aim(double target) noexcept {
    if (target != to) {
        from = now;
        to = target;
        left = fade_samples;
    }
}

double Player::Ramp::next() noexcept {
    if (left > 0) {
        --left;
        now = left == 0 ? to : from + (to - from) * smooth(fade_samples - left);
    }
    return now;
}

Player::Player(PlayedSignals played, std::size_t chains)
    : signals_(std::move(played)), chain_count_(std::min(chains, most_chains)),
      loop_to_(signals_.in->size()), in_(block), reference_(block), chain_out_(block),
      fading_(block), mix_(block), limiter_release_(1 - std::exp(-1 / release_samples)),
      played_(kept_samples) {
    gain_.fill(1);
    for (auto& out : outs_) {
        out.resize(block);
    }
    heard_[index_of(Heard::in)].set(1);
}

Player::~Player() {
    while (const auto command = commands_.take()) {
        delete command->prepared;
    }
    for (Chain& chain : chains_) {
        delete chain.heard;
        delete chain.coming;
        delete chain.waiting;
    }
    collect();
}

// --- the controlling thread ---

bool Player::send(const Command& command) {
    return commands_.put(command);
}

double Player::input_at(std::size_t position) const noexcept {
    return position < signals_.in->size() ? (*signals_.in)[position] : 0;
}

Expected<void> Player::set_chain(std::size_t chain, const Filter& filter) {
    collect();
    auto engine = filter.is_stable() ? engine_of(filter)
                                     : refuse("", "the chain is unstable", "mend it to hear it");
    if (!engine) {
        mute_chain(chain);
        return tl::unexpected(engine.error());
    }
    constexpr std::size_t longest = std::size_t(1) << 17;
    constexpr double forgotten_db = 120;
    auto prepared = std::make_unique<Prepared>(Prepared{std::move(*engine), chain, position()});
    const std::size_t before =
        is_playing() ? std::min(memory_samples(filter, forgotten_db, longest), prepared->ran_to)
                     : 0;
    prepared->engine->go_to(prepared->ran_to - before);
    if (before > 0) {
        std::vector<double> past(before);
        for (std::size_t i = 0; i < before; ++i) {
            past[i] = input_at(prepared->ran_to - before + i);
        }
        prepared->engine->process(past);
    }
    if (!send({Command::Kind::chain, chain, 0, 0, 0, false, prepared.get()})) {
        return refuse("", "changes come faster than they can be heard", "wait a moment");
    }
    static_cast<void>(prepared.release()); // retire() hands it back
    return {};
}

void Player::mute_chain(std::size_t chain) {
    send({Command::Kind::mute, chain});
}

void Player::play(bool plays) {
    send({Command::Kind::play, 0, 0, 0, 0, plays});
    playing_.store(plays, std::memory_order_relaxed);
}

void Player::go_to(std::size_t sample) {
    send({Command::Kind::go_to, 0, std::min(sample, signals_.in->size())});
}

void Player::set_loop(std::optional<std::pair<std::size_t, std::size_t>> span, bool repeats) {
    const std::size_t end = signals_.in->size();
    const auto [from, to] = span.value_or(std::pair(std::size_t(0), end));
    send({Command::Kind::loop, 0, std::min(from, end), std::min(to, end), 0, repeats});
}

void Player::listen_to(Heard what) {
    send({Command::Kind::heard, index_of(what)});
}

void Player::set_reference_delay(std::size_t samples) {
    send({Command::Kind::delay, 0, samples});
}

void Player::set_gain(Heard what, double factor) {
    send({Command::Kind::gain, index_of(what), 0, 0, factor});
}

void Player::set_volume(double factor) {
    send({Command::Kind::volume, 0, 0, 0, factor});
}

void Player::play_tone(std::optional<double> turns_per_sample) {
    send(
        {Command::Kind::tone, 0, 0, 0, turns_per_sample.value_or(0), turns_per_sample.has_value()});
}

PlayerMeters Player::meters() {
    PlayerMeters meters;
    meters.peak = peak_.exchange(0, std::memory_order_relaxed);
    meters.least_gain = least_gain_.exchange(1, std::memory_order_relaxed);
    const double squares = squares_.exchange(0, std::memory_order_relaxed);
    const auto count = counted_.exchange(0, std::memory_order_relaxed);
    meters.rms = count > 0 ? std::sqrt(squares / static_cast<double>(count)) : 0;
    meters.clipped = clipped_.load(std::memory_order_relaxed);
    for (std::size_t i = 0; i < most_chains; ++i) {
        meters.ran_away.at(i) = ran_away_.at(i).load(std::memory_order_relaxed);
    }
    return meters;
}

std::vector<double> Player::last_played(std::size_t count) const {
    const std::size_t end = played_count_.load(std::memory_order_acquire);
    count = std::min({count, end, kept_samples});
    std::vector<double> out(count);
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = played_[(end - count + i) % kept_samples].load(std::memory_order_relaxed);
    }
    return out;
}

void Player::collect() {
    while (const auto done = retired_.take()) {
        delete *done;
    }
}

// --- the rendering thread ---

// Its ring is larger than what can be under way: nothing is ever lost.
void Player::retire(Prepared* prepared) noexcept {
    if (prepared != nullptr) {
        retired_.put(prepared);
    }
}

void Player::begin_fade(Chain& chain) noexcept {
    chain.coming = std::exchange(chain.waiting, nullptr);
    chain.faded = 0;
}

template <class Visit>
void Player::for_prepared(Visit visit) noexcept {
    for (Chain& chain : chains_) {
        for (Prepared* prepared : {chain.heard, chain.coming, chain.waiting}) {
            if (prepared != nullptr) {
                visit(*prepared);
            }
        }
    }
}

// Chains begin there from rest.
void Player::jump(std::size_t to) noexcept {
    at_ = to;
    for_prepared([to](Prepared& prepared) {
        prepared.engine->reset();
        prepared.engine->go_to(to);
        prepared.ran_to = to;
    });
    position_.store(to, std::memory_order_relaxed);
}

void Player::take_chain(std::size_t index, Prepared* prepared) noexcept {
    Chain& chain = chains_[index];
    chain.open.aim(1);
    ran_away_[index].store(false, std::memory_order_relaxed);
    retire(std::exchange(chain.waiting, prepared));
    if (master_.is_silent()) { // nobody hears it: no fade
        retire(std::exchange(chain.coming, nullptr));
        retire(std::exchange(chain.heard, std::exchange(chain.waiting, nullptr)));
    } else if (chain.coming == nullptr) {
        begin_fade(chain);
    }
}

void Player::close_chain(std::size_t index) noexcept {
    retire(std::exchange(chains_[index].waiting, nullptr));
    chains_[index].open.aim(0);
    ran_away_[index].store(true, std::memory_order_relaxed);
}

void Player::run_or_stop(bool runs) noexcept {
    if (runs && !runs_ && at_ >= loop_to_) {
        jump(loop_from_);
    }
    runs_ = runs_ || runs;
    wished_ = runs;
    // A jump that is under way comes first.
    master_.aim(runs && !jump_to_ ? volume_ : 0);
}

void Player::move_to(std::size_t sample) noexcept {
    if (!runs_) {
        jump(sample);
    } else {
        jump_to_ = sample;
        master_.aim(0);
    }
}

void Player::turn_to(std::size_t heard) noexcept {
    for (std::size_t i = 0; i < heard_kinds; ++i) {
        const double wanted = i == heard ? gain_[i] : 0;
        runs_ ? heard_[i].aim(wanted) : heard_[i].set(wanted);
    }
    listened_ = static_cast<Heard>(heard);
}

void Player::glide_tone(double turns_per_sample, bool sounds) noexcept {
    if (sounds) {
        glides_to_ = turns_per_sample;
        tone_step_ = tone_.is_silent() ? glides_to_ : tone_step_;
    }
    tone_.aim(sounds ? 1 : 0);
}

void Player::obey(const Command& command) noexcept {
    switch (command.kind) {
    case Command::Kind::chain:
        return take_chain(command.index, command.prepared);
    case Command::Kind::mute:
        return close_chain(command.index);
    case Command::Kind::play:
        return run_or_stop(command.on);
    case Command::Kind::go_to:
        return move_to(command.from);
    case Command::Kind::loop:
        loop_from_ = command.from;
        loop_to_ = std::max(command.to, command.from);
        repeats_ = command.on;
        return;
    case Command::Kind::heard:
        return turn_to(command.index);
    case Command::Kind::gain:
        gain_[command.index] = command.value;
        if (index_of(listened_) == command.index) {
            heard_[command.index].aim(command.value);
        }
        return;
    case Command::Kind::delay:
        signals_.reference_delay = command.from;
        return;
    case Command::Kind::tone:
        return glide_tone(command.value, command.on);
    case Command::Kind::volume:
        volume_ = command.value;
        if (master_.to != 0) {
            master_.aim(volume_);
        }
        return;
    }
}

// The frequency glides within a few milliseconds: a jump of it would be heard.
void Player::add_tone(std::span<double> in) noexcept {
    constexpr double peak = 0.5, glide = 1.0 / 200;
    for (double& sample : in) {
        tone_step_ += glide * (glides_to_ - tone_step_);
        tone_at_ += tone_step_;
        tone_at_ -= std::floor(tone_at_);
        const double share = tone_.next();
        sample += share * (peak * std::sin(2 * pi * tone_at_) - sample);
    }
}

// Towards the end of a loop the samples before its beginning are faded in, so that it closes.
void Player::fetch(std::span<double> in, std::span<double> reference) noexcept {
    const std::vector<double>& signal = *signals_.in;
    const bool has_reference = signals_.reference != nullptr;
    for (std::size_t n = 0; n < in.size(); ++n) {
        in[n] = input_at(at_);
        reference[n] =
            has_reference && at_ < signals_.reference->size() ? (*signals_.reference)[at_] : 0;
        const std::size_t left = loop_to_ > at_ ? loop_to_ - at_ : 0;
        if (repeats_ && left > 0 && left <= fade_samples && loop_from_ >= fade_samples) {
            const double t = 1 - static_cast<double>(left) / static_cast<double>(fade_samples);
            const std::size_t early = loop_from_ - left;
            in[n] += t * (input_at(early) - in[n]);
        }
        ++at_;
    }
    if (!tone_.is_silent()) {
        add_tone(in);
    }
    // Past the end of what is played once there is silence, until nothing rings on.
    constexpr std::size_t ring_on = 96'000;
    const std::size_t end = std::min(loop_to_, signal.size());
    if (!repeats_ && at_ >= end + ring_on) {
        master_.aim(0);
    }
}

// What was played since it was prepared, so that it comes as if it had always run.
void Player::catch_up(Prepared& coming, std::size_t start) noexcept {
    if (coming.ran_to >= start || start - coming.ran_to > most_catching_up) {
        return;
    }
    while (coming.ran_to < start) {
        const std::size_t count = std::min(start - coming.ran_to, block);
        const auto piece = std::span(chain_out_).first(count);
        for (std::size_t i = 0; i < count; ++i) {
            piece[i] = input_at(coming.ran_to + i);
        }
        coming.engine->process(piece);
        coming.ran_to += count;
    }
}

void Player::run_chain(std::size_t index, std::span<const double> in,
                       std::span<double> out) noexcept {
    Chain& chain = chains_[index];
    std::ranges::copy(in, out.begin());
    if (chain.heard != nullptr) {
        chain.heard->engine->process(out);
    } else {
        std::ranges::fill(out, 0.0);
    }
    if (chain.coming != nullptr) {
        Prepared& coming = *chain.coming;
        catch_up(coming, at_ - std::min(at_, in.size()));
        const auto fading = std::span(fading_).first(in.size());
        std::ranges::copy(in, fading.begin());
        coming.engine->process(fading);
        coming.ran_to = at_;
        for (std::size_t n = 0; n < out.size(); ++n) {
            const double t = smooth(++chain.faded);
            out[n] += t * (fading[n] - out[n]);
        }
        if (chain.faded >= fade_samples) {
            retire(std::exchange(chain.heard, std::exchange(chain.coming, nullptr)));
            if (chain.waiting != nullptr) {
                begin_fade(chain);
            }
        }
    }
    const bool wild = std::ranges::any_of(out, [](double x) { return !(std::abs(x) <= runaway); });
    if (wild) {
        std::ranges::fill(out, 0.0);
        chain.open.set(0);
        ran_away_[index].store(true, std::memory_order_relaxed);
        return;
    }
    for (double& sample : out) {
        sample *= chain.open.next();
    }
}

void Player::render_block(std::span<double> out) noexcept {
    const auto in = std::span(in_).first(out.size());
    const auto reference = std::span(reference_).first(out.size());
    fetch(in, reference);
    for (std::size_t i = 0; i < chain_count_; ++i) {
        run_chain(i, in, std::span(outs_[i]).first(out.size()));
    }
    const std::size_t start = at_ - std::min(at_, out.size());
    for (std::size_t n = 0; n < out.size(); ++n) {
        double sum = heard_[index_of(Heard::in)].next() * in[n]
                     + heard_[index_of(Heard::reference)].next() * reference[n];
        if (Ramp& difference = heard_[index_of(Heard::difference)]; !difference.is_silent()) {
            const std::size_t late = start + n;
            const bool there = signals_.reference != nullptr && late >= signals_.reference_delay
                               && late - signals_.reference_delay < signals_.reference->size();
            const double wanted =
                there ? (*signals_.reference)[late - signals_.reference_delay] : 0;
            sum += difference.next() * (outs_[0][n] - wanted);
        }
        for (std::size_t i = 0; i < chain_count_; ++i) {
            sum += heard_[index_of(chain_heard(i))].next() * outs_[i][n];
        }
        out[n] = sum * master_.next();
    }
    if (master_.now == 0 && jump_to_) {
        jump(*std::exchange(jump_to_, {}));
        master_.aim(wished_ ? volume_ : 0);
    } else if (master_.is_silent()) {
        runs_ = false;
        playing_.store(false, std::memory_order_relaxed);
    }
    limit_and_meter(out);
}

// At once down to what a sample needs, slowly up again: below the ceiling it changes no bit.
void Player::limit_and_meter(std::span<double> out) noexcept {
    double peak = 0, squares = 0, least = 1;
    std::uint64_t held = 0;
    for (double& sample : out) {
        limiter_gain_ += limiter_release_ * (1 - limiter_gain_);
        if (limiter_gain_ > 1 - 1e-9) {
            limiter_gain_ = 1;
        }
        const double size = std::abs(sample);
        if (size * limiter_gain_ > ceiling) {
            limiter_gain_ = ceiling / size;
            ++held;
        }
        sample *= limiter_gain_;
        least = std::min(least, limiter_gain_);
        peak = std::max(peak, std::abs(sample));
        squares += sample * sample;
    }
    const auto relaxed = std::memory_order_relaxed;
    peak_.store(std::max(peak_.load(relaxed), peak), relaxed);
    least_gain_.store(std::min(least_gain_.load(relaxed), least), relaxed);
    squares_.store(squares_.load(relaxed) + squares, relaxed);
    counted_.fetch_add(out.size(), relaxed);
    clipped_.fetch_add(held, relaxed);
    std::size_t at = played_count_.load(relaxed);
    for (const double sample : out) {
        played_[at % kept_samples].store(static_cast<float>(sample), relaxed);
        ++at;
    }
    played_count_.store(at, std::memory_order_release);
}

void Player::render(std::span<double> out) noexcept {
    const FlushDenormals flush;
    while (const auto command = commands_.take()) {
        obey(*command);
    }
    while (!out.empty()) {
        if (runs_ && closes_loop() && at_ >= loop_to_) {
            at_ = loop_from_; // chains go on as they are
            for_prepared([this](Prepared& prepared) { prepared.engine->go_to(loop_from_); });
        }
        const std::size_t left = runs_ && closes_loop() ? loop_to_ - at_ : block;
        const auto piece = out.first(std::min({out.size(), block, left}));
        if (runs_) {
            render_block(piece);
            position_.store(std::min(at_, signals_.in->size()), std::memory_order_relaxed);
        } else {
            std::ranges::fill(piece, 0.0);
        }
        out = out.subspan(piece.size());
    }
}

} // namespace syntonon
