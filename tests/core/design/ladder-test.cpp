// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/ladder.h"

#include "core/filter/computed.h"
#include "core/filter/form.h"
#include "core/filter/modelled/ladder.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using modelled::LadderResponse;
using modelled::LadderType;

LadderSpec ladder_at(double hz, double resonance) {
    LadderSpec spec;
    spec.frequency_hz = hz;
    spec.resonance = resonance;
    return spec;
}

Expected<Design> designed(const LadderSpec& spec, const Axis& axis = 48000) {
    return design(spec, brief_at(axis), Watch());
}

TEST(LadderDesign, IsWhatItsTextbookSays) {
    const auto made = designed(ladder_at(1000, 0.5));
    ASSERT_TRUE(made);
    const Probe probe(made->filter, 48000);
    EXPECT_NEAR(probe.level_db(1), -20 * std::log10(1 + 2), 1e-3) << "1 / (1 + k)";
    const auto at_set = modelled::small_signal(LadderType::transistor, 0.5, 4, {0, 1});
    EXPECT_NEAR(probe.level_db(1000), 20 * std::log10(std::abs(at_set)), 1e-3);
    EXPECT_EQ(made->note, "");
    EXPECT_TRUE(made->filter.is_stable());
}

TEST(LadderDesign, SaysThatItSwingsByItself) {
    const auto made = designed(ladder_at(440, 1.2));
    ASSERT_TRUE(made);
    EXPECT_NE(made->note.find("440 Hz"), std::string::npos) << made->note;
    EXPECT_TRUE(made->filter.is_stable());
    LadderSpec driven = ladder_at(440, 1.2);
    driven.drive_db = 20;
    EXPECT_NE(designed(driven)->note, made->note) << "as much quieter as it is driven";
}

TEST(LadderDesign, RefusesWhatItCannotDo) {
    const auto place_of = [](const LadderSpec& spec, const Axis& axis = 48000) {
        const auto made = designed(spec, axis);
        return made ? std::string() : made.error().place;
    };
    EXPECT_EQ(place_of(ladder_at(24000, 0)), "frequency_hz");
    EXPECT_EQ(place_of(ladder_at(std::nan(""), 0)), "frequency_hz");
    EXPECT_EQ(place_of(ladder_at(1000, 2.5)), "resonance");
    LadderSpec spec = ladder_at(1000, 1.2);
    spec.saturating = false;
    EXPECT_EQ(place_of(spec), "resonance") << "without an end";
    EXPECT_EQ(place_of(ladder_at(1000, 1.2), Axis(48000, Domain::analog)), "resonance");
    spec = ladder_at(1000, 0);
    spec.oversampling = 3;
    EXPECT_EQ(place_of(spec), "oversampling");
    spec = ladder_at(16000, 0);
    spec.oversampling = 1;
    EXPECT_EQ(place_of(spec), "frequency_hz") << "beyond 0.3 of its rate";
    spec.oversampling = 2;
    EXPECT_EQ(place_of(spec), "");
    spec.bass_compensation = 2;
    EXPECT_EQ(place_of(spec), "bass_compensation");
}

TEST(LadderDesign, WorksOutHowFarOffItWouldLie) {
    LadderSpec spec = ladder_at(8000, 0);
    spec.oversampling = 1;
    const Working working = designed(spec)->working();
    double cents = 0;
    for (const auto& step : working.steps) {
        for (const auto& number : step.numbers) {
            cents = number.unit == "cents" ? number.value : cents;
        }
    }
    const double angle = std::acos(-1.0) / 6;
    EXPECT_NEAR(cents, 1200 * std::log2(std::atan(angle) / angle), 1e-9);
}

// Harmonics of the first stage's bend: third, fifth, and none that are even.
TEST(LadderDesign, DriveAddsHarmonicsAndLeavesSmallSignals) {
    LadderSpec spec = ladder_at(12000, 0);
    const auto level_of = [&](double drive_db, int harmonic, double amplitude) {
        spec.drive_db = drive_db;
        const Filter filter = designed(spec)->filter;
        std::vector<double> tone(9600);
        for (std::size_t n = 0; n < tone.size(); ++n) {
            tone[n] = amplitude * std::sin(2 * std::acos(-1.0) * 500 * double(n) / 48000);
        }
        filter.run(tone);
        std::complex<double> sum;
        for (std::size_t n = 4800; n < tone.size(); ++n) {
            sum += tone[n]
                   * std::polar(1.0, -2 * std::acos(-1.0) * 500 * harmonic * double(n) / 48000);
        }
        return 20 * std::log10(std::abs(sum) / 2400 / amplitude);
    };
    EXPECT_NEAR(level_of(30, 1, 1e-5), level_of(0, 1, 1e-5), 0.01);
    EXPECT_LT(level_of(-20, 3, 0.5), -75);
    EXPECT_GT(level_of(20, 3, 0.5), -25);
    EXPECT_LT(level_of(20, 2, 0.5), -100);
}

TEST(LadderDesign, CostsWhatItsRateCosts) {
    LadderSpec spec = ladder_at(1000, 0.2);
    const int twice = designed(spec)->filter.cost().multiplies;
    spec.oversampling = 8;
    EXPECT_GT(designed(spec)->filter.cost().multiplies, 3 * twice);
    spec.saturating = false;
    EXPECT_LT(designed(spec)->filter.cost().multiplies, 2 * twice);
}

TEST(LadderDesign, TheImpulseResponseIsTheLinearOnes) {
    LadderSpec spec = ladder_at(1000, 0.2);
    spec.drive_db = 40; // an impulse of 1 would be far up the bend
    const Filter filter = designed(spec)->filter;
    const auto impulse = filter.impulse_response(3000);
    double sum = 0;
    for (const double value : impulse) {
        sum += value;
    }
    EXPECT_NEAR(20 * std::log10(sum), Probe(filter, 48000).level_db(0), 1e-6);
}

} // namespace
} // namespace syntonon
