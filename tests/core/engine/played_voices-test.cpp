// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/played_voices.h"

#include "core/design/modelled_filter.h"
#include "core/engine/filter_engine.h"
#include "core/filter/form.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr double voices_rate_hz = 48000;

Filter ladder_at_hz(double hz, double resonance = 0.5) {
    return modelled_filter(modelled::LadderBuild{}, modelled::LadderKnobs{hz, resonance, 0},
                           voices_rate_hz);
}
Filter linear_at_hz(double hz) {
    return modelled_filter(modelled::StateVariableBuild{},
                           modelled::StateVariableKnobs{hz, 0.6, 0, 0}, voices_rate_hz);
}

Playing playing_notes(std::vector<Note> notes) {
    Playing playing;
    playing.has_notes = true;
    playing.notes = std::move(notes);
    return playing;
}

std::vector<double> played(const Filter& filter, std::size_t count,
                           std::vector<double> signal = {}) {
    signal.resize(count);
    filter.run(signal);
    return signal;
}

TEST(PlayedVoices, AChainWithoutModelledStagesStaysAsItIs) {
    const Filter plain(Gain{0.5});
    EXPECT_TRUE(as_played(plain, playing_notes({{0, 1, 60, 1}}), voices_rate_hz).is_same_as(plain));
    const Filter ladder = ladder_at_hz(1000);
    EXPECT_TRUE(as_played(ladder, Playing(), voices_rate_hz).is_same_as(ladder)) << "not moved";
}

TEST(PlayedVoices, IsTheChainInAllElse) {
    const Filter ladder = ladder_at_hz(1000);
    const Filter filter = as_played(ladder, playing_notes({{0, 1, 60, 1}}), voices_rate_hz);
    EXPECT_EQ(Probe(filter, voices_rate_hz).level_db(700),
              Probe(ladder, voices_rate_hz).level_db(700));
    EXPECT_EQ(filter, as_played(ladder, playing_notes({{0, 1, 60, 1}}), voices_rate_hz));
    EXPECT_NE(filter, as_played(ladder, playing_notes({{0, 1, 61, 1}}), voices_rate_hz));
}

// Each note has filters of its own: a chord of a saturating ladder is the sum of its notes, and not
// what the ladder makes of the chord.
TEST(PlayedVoices, AChordIsTheSumOfItsNotes) {
    const std::vector<Note> chord = {{0, 0.2, 45, 1}, {0.05, 0.2, 52, 0.7}, {0.05, 0.3, 57, 0.9}};
    auto playing = playing_notes(chord);
    playing.modulation.envelope_oct = 3;
    playing.modulation.velocity_oct = 1;
    const Filter ladder = ladder_at_hz(600, 0.9);
    const std::size_t count = 24000;
    const auto together = played(as_played(ladder, playing, voices_rate_hz), count);
    std::vector<double> sum(count);
    for (const Note& note : chord) {
        playing.notes = {note};
        const auto one = played(as_played(ladder, playing, voices_rate_hz), count);
        std::ranges::transform(sum, one, sum.begin(), std::plus<>());
    }
    double worst = 0, loudest = 0;
    for (std::size_t n = 0; n < count; ++n) {
        worst = std::max(worst, std::abs(sum[n] - together[n]));
        loudest = std::max(loudest, std::abs(together[n]));
    }
    EXPECT_LT(worst, 1e-12);
    EXPECT_GT(loudest, 0.1);
}

TEST(PlayedVoices, MoreThanAGroupSoundAndTheOldestGives) {
    std::vector<Note> many;
    for (int i = 0; i < 80; ++i) {
        many.push_back({0.001 * i, 1, 30.0 + i, 0.5});
    }
    const auto signal =
        played(as_played(ladder_at_hz(2000), playing_notes(many), voices_rate_hz), 9600);
    EXPECT_TRUE(std::ranges::all_of(signal, [](double x) { return std::isfinite(x); }));
    EXPECT_GT(*std::ranges::max_element(signal), 0.5);
}

// However it is parted into blocks.
TEST(PlayedVoices, BlocksChangeNoBit) {
    auto playing = playing_notes({{0, 0.1, 45, 1}, {0.013, 0.08, 64, 0.5}});
    playing.modulation.oscillator_oct = 1;
    playing.modulation.oscillator_hz = 300;
    const std::vector<Filter> parts = {Filter(Cascade{{Biquad{0.5, 0.5, 0, 0, 0}}}),
                                       ladder_at_hz(800), Filter(Gain{0.5})};
    const Filter filter = as_played(series(parts), playing, voices_rate_hz);
    const auto whole = played(filter, 6000);
    auto engine = std::move(engine_of(filter).value());
    std::vector<double> pieces(6000);
    for (std::size_t at = 0, size = 1; at < pieces.size(); size = size * 3 % 257 + 1) {
        const std::size_t count = std::min(size, pieces.size() - at);
        engine->process(std::span(pieces).subspan(at, count));
        at += count;
    }
    EXPECT_EQ(pieces, whole);
}

TEST(PlayedVoices, GoesToAnyPlace) {
    auto playing = playing_notes({{0.01, 0.2, 45, 1}, {0.05, 0.1, 64, 0.5}});
    playing.modulation.envelope_oct = 2;
    playing.modulation.release_ms = 20;
    const Filter filter = as_played(linear_at_hz(500), playing, voices_rate_hz);
    const auto whole = played(filter, 12000);
    auto engine = std::move(engine_of(filter).value());
    const std::size_t there = 3000;
    engine->go_to(there); // in the middle of both
    std::vector<double> rest(9000);
    engine->process(rest);
    double worst = 0;
    for (std::size_t n = 2000; n < rest.size(); ++n) { // when the filters have settled
        worst = std::max(worst, std::abs(rest[n] - whole[there + n]));
    }
    EXPECT_LT(worst, 1e-9);
    // Again from the beginning, as a loop does: what sounds is let go, and all begins again.
    engine->go_to(0);
    std::vector<double> again(12000);
    engine->process(again);
    worst = 0;
    for (std::size_t n = 6000; n < again.size(); ++n) {
        worst = std::max(worst, std::abs(again[n] - whole[n]));
    }
    EXPECT_LT(worst, 1e-6);
    engine->reset();
    engine->process(again = std::vector<double>(12000));
    EXPECT_EQ(again, whole) << "from rest it is the same to the last bit";
}

// A filter that lets the oscillator's frequency through where it stands.
TEST(PlayedVoices, ModulationMovesTheFrequency) {
    const auto level_at = [](const Modulation& modulation, double key, double velocity) {
        Playing playing = playing_notes({{0, 2, key, velocity}});
        playing.modulation = modulation;
        const auto out = played(as_played(linear_at_hz(100), playing, voices_rate_hz), 48000);
        double power = 0;
        for (std::size_t n = 24000; n < out.size(); ++n) {
            power += out[n] * out[n];
        }
        return 10 * std::log10(power) - 20 * std::log10(velocity);
    };
    const double key = 69; // 440 Hz, two octaves above
    const double unmoved = level_at({}, key, 1);
    Modulation up;
    up.envelope_oct = 3;
    up.sustain = 1;
    EXPECT_GT(level_at(up, key, 1), unmoved + 20);
    up.sustain = 0;
    EXPECT_NEAR(level_at(up, key, 1), unmoved, 0.5);
    Modulation keyboard;
    keyboard.keyboard = 1;
    EXPECT_GT(level_at(keyboard, key, 1), unmoved + 5);
    Modulation velocity;
    velocity.velocity_oct = 3;
    EXPECT_GT(level_at(velocity, key, 1), level_at(velocity, key, 0.2) + 10);
}

TEST(PlayedVoices, WhatComesInGoesThroughOneVoice) {
    Playing playing;
    playing.modulation.oscillator_oct = 1e-12; // it moves, but as good as nowhere
    const Filter ladder = ladder_at_hz(900);
    std::vector<double> tone(4000);
    for (std::size_t n = 0; n < tone.size(); ++n) {
        tone[n] = std::sin(0.05 * double(n));
    }
    const auto moved = played(as_played(ladder, playing, voices_rate_hz), tone.size(), tone);
    const auto still = played(ladder, tone.size(), tone);
    for (std::size_t n = 0; n < tone.size(); ++n) {
        ASSERT_NEAR(moved[n], still[n], 1e-9);
    }
}

TEST(PlayedVoices, KeysArePlayedWhilePressed) {
    auto keys = std::make_shared<LiveKeys>();
    Playing playing = playing_notes({});
    playing.keys = keys;
    playing.modulation.release_ms = 20;
    auto engine =
        std::move(engine_of(as_played(ladder_at_hz(2000), playing, voices_rate_hz)).value());
    const auto loudest = [&] {
        std::vector<double> block(4800);
        engine->process(block);
        return std::abs(*std::ranges::max_element(block, {}, [](double x) { return std::abs(x); }));
    };
    EXPECT_EQ(loudest(), 0);
    keys->press(60, 0.8);
    keys->press(67, 0.5);
    EXPECT_GT(loudest(), 0.1);
    keys->release(60);
    keys->release(67);
    loudest();
    EXPECT_EQ(loudest(), 0);
    keys->press(60, 0.8);
    engine->reset();
    EXPECT_GT(loudest(), 0.05) << "what is held when it begins sounds";
}

} // namespace
} // namespace syntonon
