// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/setting_ramp.h"

#include "core/device/oca/setting_text.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

TEST(SettingRamp, GoesInStepsThatSuitTheNumber) {
    const auto gains = ramp_between(GainSetting{0}, GainSetting{-8}, 4);
    ASSERT_EQ(gains.size(), 4u);
    EXPECT_EQ(std::get<GainSetting>(gains[0]).gain_db, -2);
    EXPECT_EQ(gains.back(), Setting(GainSetting{-8}));
    const auto bells = ramp_between(ParametricSetting{100, ParametricForm::peak, 1, -2, 0},
                                    ParametricSetting{1600, ParametricForm::peak, 4, -6, 0}, 2);
    const auto& middle = std::get<ParametricSetting>(bells[0]);
    EXPECT_FLOAT_EQ(middle.frequency_hz, 400);
    EXPECT_FLOAT_EQ(middle.width, 2);
    EXPECT_FLOAT_EQ(middle.in_band_gain_db, -4);
}

TEST(SettingRamp, ABellThatWasOffRisesWhereItIsToBe) {
    for (const ParametricSetting& off :
         {ParametricSetting{}, ParametricSetting{50, ParametricForm::low_shelf, 3, 0, 0}}) {
        const auto all =
            ramp_between(off, ParametricSetting{800, ParametricForm::peak, 2, -8, 0}, 4);
        ASSERT_EQ(all.size(), 4u);
        EXPECT_EQ(all[0], Setting(ParametricSetting{800, ParametricForm::peak, 2, -2, 0}));
    }
}

// |a2| < 1, |a1| < 1 + a2 all the way, from a resonance at the bottom to one at the top.
TEST(SettingRamp, SectionsStayStable) {
    const auto denominator = [](double radius, double angle) {
        return std::vector<float>{1, static_cast<float>(-2 * radius * std::cos(angle)),
                                  static_cast<float>(radius * radius)};
    };
    for (const double from : {0.01, 0.5, 1.5, 3.1}) {
        for (const double to : {0.02, 1.0, 2.0, 3.0}) {
            for (const Setting& one :
                 ramp_between(PolynomialSetting{{1}, denominator(0.999, from)},
                              PolynomialSetting{{1, -1}, denominator(0.99, to)}, 16)) {
                const auto& a = std::get<PolynomialSetting>(one).denominator;
                EXPECT_LT(a[2], 1);
                EXPECT_LT(std::abs(a[1]), 1 + a[2]);
            }
        }
    }
    const auto grown =
        ramp_between(PolynomialSetting{{1}, {1}}, PolynomialSetting{{1, 2}, {1, 0.5f}}, 2);
    EXPECT_EQ(grown[0], Setting(PolynomialSetting{{1, 1}, {1, 0.25f}}));
}

TEST(SettingRamp, WhatHasNothingBetweenIsSetAtOnce) {
    using Ends = std::pair<Setting, Setting>;
    for (const auto& [from, to] :
         {Ends{MuteSetting{false}, MuteSetting{true}}, Ends{DelaySetting{0}, DelaySetting{1}},
          Ends{ParametricSetting{100, ParametricForm::peak, 1, 0, 0},
               ParametricSetting{100, ParametricForm::notch, 1, 0, 0}},
          Ends{PolynomialSetting{{1}, {1, 0, 0, 0.1f}}, PolynomialSetting{{1}, {1}}}}) {
        const auto all = ramp_between(from, to, 8);
        ASSERT_EQ(all.size(), 1u) << text_of(from);
        EXPECT_EQ(all[0], to);
    }
}

} // namespace
} // namespace syntonon::oca
