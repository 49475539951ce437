// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/player.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/engine/render.h"
#include "core/filter/form.h"
#include "tests/support/forbidden_memory.h"
#include "tests/support/noise.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Samples = std::shared_ptr<const std::vector<double>>;

Samples tone(double hz, double peak, std::size_t count = 96'000) {
    std::vector<double> samples(count);
    for (std::size_t n = 0; n < count; ++n) {
        samples[n] = peak * std::sin(2 * pi * hz * static_cast<double>(n) / 48000);
    }
    return std::make_shared<const std::vector<double>>(std::move(samples));
}

Samples quiet_noise(std::size_t count) {
    auto samples = noise(count, 5);
    for (double& sample : samples) {
        sample *= 0.2;
    }
    return std::make_shared<const std::vector<double>>(std::move(samples));
}

Filter peak_at(double hz, double gain_db, double q = 1) {
    Brief brief;
    brief.sample_rate_hz = 48000;
    return design(parametric(ParametricShape::peak, hz, gain_db, q), brief, {})->filter;
}

// As a device asks for it; asking for memory ends the test.
std::vector<double> played(Player& player, std::size_t count, std::size_t frames = 256) {
    std::vector<double> out(count);
    for (std::size_t at = 0; at < count; at += frames) {
        const auto piece = std::span(out).subspan(at, std::min(frames, count - at));
        test::memory_is_forbidden = true;
        player.render(piece);
        test::memory_is_forbidden = false;
    }
    return out;
}

// The greatest jump of the slope: a click stands out of a smooth tone.
double roughness(std::span<const double> signal) {
    double greatest = 0;
    for (std::size_t n = 2; n < signal.size(); ++n) {
        greatest = std::max(greatest, std::abs(signal[n] - 2 * signal[n - 1] + signal[n - 2]));
    }
    return greatest;
}
double tone_roughness(double hz, double peak) {
    const double w = 2 * pi * hz / 48000;
    return peak * w * w;
}

TEST(Player, IsSilentUntilItPlays) {
    Player player({tone(1000, 0.5), nullptr}, 1);
    const auto before = played(player, 1000);
    EXPECT_TRUE(std::ranges::all_of(before, [](double x) { return x == 0; }));
    EXPECT_FALSE(player.is_playing());
    player.play(true);
    EXPECT_TRUE(player.is_playing());
    EXPECT_GT(roughness(played(player, 1000)), 0);
}

TEST(Player, WhatIsPlayedIsWhatIsRendered) {
    const Samples in = quiet_noise(20'000);
    const Filter filter = peak_at(800, 9);
    Player player({in, nullptr}, 1);
    ASSERT_TRUE(player.set_chain(0, filter));
    player.listen_to(chain_heard(0));
    player.play(true);
    for (const std::size_t frames : {std::size_t(256), std::size_t(37), std::size_t(1024)}) {
        player.go_to(0);
        played(player, 2000); // until it has jumped
        player.play(false);
        played(player, 2000);
        player.go_to(0);
        player.play(true);
        const auto out = played(player, 19'968, frames);
        const auto expected = render(filter, *in, 0)->out;
        for (std::size_t n = Player::fade_samples; n < out.size(); ++n) {
            ASSERT_NEAR(out[n], expected[n], 1e-12) << n;
        }
    }
}

TEST(Player, AChangedChainComesAsIfItHadAlwaysRun) {
    const Samples in = tone(100, 0.3);
    Player player({in, nullptr}, 1);
    ASSERT_TRUE(player.set_chain(0, peak_at(100, 0)));
    player.listen_to(chain_heard(0));
    player.play(true);
    played(player, 20'000);
    const Filter changed = peak_at(100, 6, 8);
    ASSERT_TRUE(player.set_chain(0, changed));
    const auto out = played(player, 20'000);
    EXPECT_LT(roughness(out), 1.5 * tone_roughness(100, 0.6));
    const auto expected = render(changed, *in, 0)->out;
    const std::size_t start = 20'000 + 2 * Player::fade_samples;
    for (std::size_t n = start; n < 40'000; ++n) {
        ASSERT_NEAR(out[n - 20'000], expected[n], 1e-6) << n;
    }
}

// It was prepared a while ago: what has been played since is made up for.
TEST(Player, AChangeThatComesLateCatchesUp) {
    const Samples in = tone(60, 0.3);
    Player player({in, nullptr}, 1);
    ASSERT_TRUE(player.set_chain(0, Filter()));
    player.listen_to(chain_heard(0));
    player.play(true);
    played(player, 10'000);
    const Filter first = peak_at(60, 3, 4), second = peak_at(60, 6, 4);
    ASSERT_TRUE(player.set_chain(0, first));
    ASSERT_TRUE(player.set_chain(0, second)); // waits for the first one's fade
    const auto out = played(player, 20'000);
    const auto expected = render(second, *in, 0)->out;
    for (std::size_t n = 12'000; n < 30'000; ++n) {
        ASSERT_NEAR(out[n - 10'000], expected[n], 1e-5) << n;
    }
}

// A hand that drags: a thousand changes, none of which clicks, none of which asks for memory.
TEST(Player, AThousandChangesAreSmooth) {
    const Samples in = tone(1000, 0.1, 480'000);
    Player player({in, nullptr}, 1);
    ASSERT_TRUE(player.set_chain(0, peak_at(1000, 0)));
    player.listen_to(chain_heard(0));
    player.set_loop({}, true);
    player.play(true);
    played(player, 1000);
    double roughest = 0;
    for (int i = 0; i < 1000; ++i) {
        const double hz = 1000 * std::exp2(std::sin(i * 0.05));
        ASSERT_TRUE(player.set_chain(0, peak_at(hz, 12 * std::sin(i * 0.031), 3)));
        roughest = std::max(roughest, roughness(played(player, 512)));
    }
    EXPECT_LT(roughest, 1.6 * tone_roughness(1000, 0.4)); // 12 dB up, and what fading adds
}

TEST(Player, SwitchingFadesOver) {
    const Samples in = tone(400, 0.3);
    Player player({in, in}, 2);
    ASSERT_TRUE(player.set_chain(0, Filter(Gain{0.5})));
    ASSERT_TRUE(player.set_chain(1, Filter(Gain{-1})));
    player.play(true);
    played(player, 5000);
    double roughest = 0;
    for (const Heard what :
         {chain_heard(0), chain_heard(1), Heard::reference, Heard::difference, Heard::in}) {
        player.listen_to(what);
        roughest = std::max(roughest, roughness(played(player, 2000)));
    }
    EXPECT_LT(roughest, 1.5 * tone_roughness(400, 0.3));
}

TEST(Player, EachIsHeardWithItsGain) {
    const Samples in = std::make_shared<const std::vector<double>>(9600, 0.25);
    const Samples reference = std::make_shared<const std::vector<double>>(9600, 0.1);
    Player player({in, reference}, 1);
    ASSERT_TRUE(player.set_chain(0, Filter(Gain{0.5})));
    player.set_gain(Heard::in, 0.5);
    player.set_gain(Heard::difference, 2);
    player.listen_to(Heard::in);
    player.play(true);
    EXPECT_NEAR(played(player, 1000).back(), 0.125, 1e-12);
    player.listen_to(Heard::difference);
    EXPECT_NEAR(played(player, 1000).back(), 2 * (0.125 - 0.1), 1e-12);
    player.set_volume(0.1);
    EXPECT_NEAR(played(player, 1000).back(), 0.2 * (0.125 - 0.1), 1e-12);
}

TEST(Player, TheDifferenceTakesTheReferenceLater) {
    const Samples reference = quiet_noise(20'000);
    Player player({reference, reference, 190}, 1);
    ASSERT_TRUE(player.set_chain(0, Filter(Delay{190})));
    player.listen_to(Heard::difference);
    player.play(true);
    const auto out = played(player, 20'000);
    const auto loudest = [](const std::vector<double>& samples) {
        return *std::ranges::max_element(samples, {}, [](double x) { return std::abs(x); });
    };
    EXPECT_LT(loudest(out), 1e-12);
    player.set_reference_delay(7);
    player.set_loop({}, true);
    EXPECT_GT(std::abs(loudest(played(player, 20'000))), 0.1);
}

TEST(Player, ALoopClosesSmoothly) {
    Player player({tone(441, 0.3), nullptr}, 0);
    player.set_loop(std::pair(std::size_t(10'000), std::size_t(15'000)), true);
    player.go_to(10'000);
    player.play(true);
    const auto out = played(player, 40'000);
    EXPECT_LT(roughness(std::span(out).subspan(1000)), 1.5 * tone_roughness(441, 0.3));
    EXPECT_GE(player.position(), 10'000u);
    EXPECT_LE(player.position(), 15'000u);
}

TEST(Player, GoingElsewhereFades) {
    Player player({tone(300, 0.3), nullptr}, 0);
    player.play(true);
    played(player, 5000);
    player.go_to(50'037);
    const auto out = played(player, 5000);
    EXPECT_LT(roughness(out), 1.5 * tone_roughness(300, 0.3));
    EXPECT_GT(player.position(), 50'000u);
}

TEST(Player, StoppedOnItsWayElsewhereItStaysSilent) {
    Player player({tone(300, 0.3), nullptr}, 0);
    player.play(true);
    played(player, 5000);
    player.go_to(50'000);
    player.play(false);
    played(player, 2000);
    EXPECT_EQ(played(player, 500).back(), 0);
    EXPECT_FALSE(player.is_playing());
    player.play(true);
    played(player, 2000);
    EXPECT_GT(player.position(), 50'000u);
}

TEST(Player, EndsWithTheSignalAndBeginsAnew) {
    Player player({tone(300, 0.3, 5000), nullptr}, 0);
    player.play(true);
    played(player, 110'000);
    EXPECT_FALSE(player.is_playing());
    EXPECT_EQ(player.position(), 5000u);
    player.play(true);
    EXPECT_GT(roughness(played(player, 2000)), 0);
}

// --- safety ---

TEST(Player, AnUnstableChainIsMutedWithTheReason) {
    Player player({tone(300, 0.3), nullptr}, 1);
    ASSERT_TRUE(player.set_chain(0, Filter()));
    player.listen_to(chain_heard(0));
    player.play(true);
    played(player, 2000);
    const auto refused = player.set_chain(0, Filter(Cascade{{{1, 0, 0, -2.1, 1.2}}}));
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().reason, "the chain is unstable");
    const auto out = played(player, 2000);
    EXPECT_EQ(out.back(), 0);
    EXPECT_LT(roughness(out), 1.5 * tone_roughness(300, 0.3)) << "faded out";
    EXPECT_TRUE(player.meters().ran_away[0]);
    ASSERT_TRUE(player.set_chain(0, Filter()));
    EXPECT_NE(played(player, 3000)[2990], 0);
    EXPECT_FALSE(player.meters().ran_away[0]);
}

TEST(Player, ARunawayIsMuted) {
    Player player({tone(300, 0.3), nullptr}, 1);
    ASSERT_TRUE(player.set_chain(0, Filter(Gain{1000})));
    player.listen_to(chain_heard(0));
    player.play(true);
    const auto out = played(player, 4000);
    EXPECT_TRUE(player.meters().ran_away[0]);
    EXPECT_EQ(out.back(), 0);
}

TEST(Player, NothingExceedsFullScale) {
    Player player({tone(300, 3.0), nullptr}, 0);
    player.play(true);
    const auto out = played(player, 20'000);
    EXPECT_LE(*std::ranges::max_element(out), 1);
    EXPECT_GE(*std::ranges::min_element(out), -1);
    const PlayerMeters meters = player.meters();
    EXPECT_GT(meters.clipped, 100u);
    EXPECT_LT(meters.least_gain, 0.4);
}

TEST(Player, MetersReadPeakAndRms) {
    Player player({tone(480, 0.5), nullptr}, 0);
    player.play(true);
    played(player, 1000);
    player.meters();
    const auto out = played(player, 4800);
    const PlayerMeters meters = player.meters();
    EXPECT_NEAR(meters.peak, 0.5, 1e-3);
    EXPECT_NEAR(meters.rms, 0.5 / std::sqrt(2.0), 1e-6);
    EXPECT_EQ(meters.clipped, 0u);
    EXPECT_EQ(player.meters().peak, 0);
    const auto last = player.last_played(1000);
    ASSERT_EQ(last.size(), 1000u);
    for (std::size_t n = 0; n < 1000; ++n) {
        ASSERT_NEAR(last[n], out[3800 + n], 1e-7);
    }
}

TEST(Player, AToneTakesTheSignalsPlaceAndGlides) {
    Player player({quiet_noise(200'000), nullptr}, 0);
    player.play_tone(1000.0 / 48000);
    player.play(true);
    const auto out = played(player, 10'000);
    EXPECT_LT(roughness(std::span(out).subspan(2000)), 1.01 * tone_roughness(1000, 0.5));
    EXPECT_NEAR(*std::max_element(out.begin() + 2000, out.end()), 0.5, 1e-2);
    player.play_tone(2000.0 / 48000);
    EXPECT_LT(roughness(played(player, 5000)), 1.05 * tone_roughness(2000, 0.5));
    player.play_tone({});
    EXPECT_GT(roughness(played(player, 5000)), 0.2);
}

// Says which sample of the signal it believes is next, in thousandths.
class CountingRun final : public Computation {
public:
    void process(std::span<double> block) noexcept override {
        for (double& sample : block) {
            sample = 1e-5 * static_cast<double>(at_++);
        }
    }
    void reset() noexcept override { at_ = 0; }
    void go_to(std::size_t sample) noexcept override { at_ = sample; }

private:
    std::size_t at_ = 0;
};
class WayOfCountingRun final : public WayOfComputing {
public:
    std::unique_ptr<Computation> start() const override { return std::make_unique<CountingRun>(); }
    bool is_like(const WayOfComputing& other) const override {
        return dynamic_cast<const WayOfCountingRun*>(&other) != nullptr;
    }
    std::size_t bytes() const override { return sizeof(WayOfCountingRun); }
};

// What plays notes of its own has to know where the signal is: after jumps, at the end of a loop in
// the middle of a block, and where it comes in while something plays.
TEST(Player, ChainsAreToldWhereTheSignalIs) {
    const Filter counting = Computed{Filter(), std::make_shared<const WayOfCountingRun>()};
    Player player({tone(100, 0.1, 30'000), nullptr}, 2);
    ASSERT_TRUE(player.set_chain(0, counting));
    player.listen_to(chain_heard(0));
    player.set_loop(std::pair<std::size_t, std::size_t>(1000, 4777), true);
    player.go_to(2000);
    player.play(true);
    const auto out = played(player, 20'000);
    std::size_t at = 2000;
    for (std::size_t n = 0; n < out.size(); ++n) {
        if (n > Player::fade_samples) {
            ASSERT_NEAR(out[n], 1e-5 * static_cast<double>(at), 1e-12) << n;
        }
        at = at + 1 == 4777 ? 1000 : at + 1;
    }
    ASSERT_TRUE(player.set_chain(1, counting)) << "while it plays";
    player.listen_to(chain_heard(1));
    const auto other = played(player, 5000);
    for (std::size_t n = 0; n < other.size(); ++n) {
        if (n > 2 * Player::fade_samples) {
            ASSERT_NEAR(other[n], 1e-5 * static_cast<double>(at), 1e-12) << n;
        }
        at = at + 1 == 4777 ? 1000 : at + 1;
    }
}

} // namespace
} // namespace syntonon
