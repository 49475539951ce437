// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/object_stages.h"

#include "core/device/oca/setting_text.h"
#include "core/filter/cascade.h"
#include "core/filter/in_sections.h"
#include "core/study/kinds.h"

#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

constexpr double stages_rate_hz = 48'000;

TEST(ObjectStages, WhatAStageIsSetToMakesTheStageAgain) {
    ClassicalSpec riley;
    riley.family = ClassicalFamily::linkwitz_riley;
    riley.band = ClassicalBand::high_pass;
    riley.edges_hz[0] = 300;
    const std::vector<std::pair<Kind, StageSpec>> all = {
        {Kind::parametric_filter, parametric(ParametricShape::peak, 1000, -3, 2)},
        {Kind::parametric_filter, parametric(ParametricShape::notch, 50, 0, 8)},
        {Kind::classical_filter, riley},
        {Kind::gain, GainSpec{-6, false, {}}},
        {Kind::polarity, GainSpec{0, true, {}}}};
    for (const auto& [kind, spec] : all) {
        const auto setting = setting_for(spec, kind, stages_rate_hz);
        ASSERT_TRUE(setting) << kind_of(spec);
        EXPECT_EQ(kind_of(*setting), kind);
        const auto back = stage_from(*setting, stages_rate_hz);
        ASSERT_TRUE(back && *back) << kind_of(spec);
        EXPECT_EQ(kind_of(**back), kind_of(spec));
        const auto again = setting_for(**back, kind, stages_rate_hz);
        ASSERT_TRUE(again);
        EXPECT_EQ(*again, *setting);
    }
}

TEST(ObjectStages, WhatAnObjectCannotBeExactlyIsNotProposed) {
    ParametricSpec matched = parametric(ParametricShape::peak, 15'000, -3, 2);
    matched.mapping = ParametricMapping::nyquist_matched;
    EXPECT_FALSE(setting_for(matched, Kind::parametric_filter, stages_rate_hz));
    EXPECT_FALSE(setting_for(parametric(ParametricShape::low_shelf, 100, -3, 0.7, 1),
                             Kind::parametric_filter, stages_rate_hz));
    EXPECT_FALSE(setting_for(parametric(ParametricShape::peak, 100, -3, 0.7),
                             Kind::polynomial_filter, stages_rate_hz));
    ClassicalSpec elliptic;
    elliptic.family = ClassicalFamily::elliptic;
    EXPECT_FALSE(setting_for(elliptic, Kind::classical_filter, stages_rate_hz));
    EXPECT_FALSE(setting_for(GainSpec{-6, true, {}}, Kind::gain, stages_rate_hz));
    EXPECT_FALSE(setting_for(GainSpec{-6, true, {}}, Kind::polarity, stages_rate_hz));
    DelaySpec between{DelayUnit::samples, 3.5};
    between.interpolation = Interpolation::lagrange;
    EXPECT_FALSE(setting_for(between, Kind::delay, stages_rate_hz));
}

// 32-bit floats are what the standard's objects take.
TEST(ObjectStages, AFilterBecomesASectionEachTapsAndADelay) {
    const Filter filter = filter_of(SeriesParts{
        Cascade{{{1, -1.8, 0.9, -1.7, 0.8}, {0.5, 0, 0, -0.25, 0}}}, 480, {0.25, 0.5, 0.25}});
    const auto settings = settings_for(filter, stages_rate_hz);
    ASSERT_TRUE(settings);
    ASSERT_EQ(settings->sections.size(), 2u);
    EXPECT_EQ(settings->sections[0], (PolynomialSetting{{1, -1.8f, 0.9f}, {1, -1.7f, 0.8f}}));
    ASSERT_TRUE(settings->taps);
    EXPECT_EQ(settings->taps->taps, (std::vector<float>{0.25f, 0.5f, 0.25f}));
    ASSERT_TRUE(settings->delay);
    EXPECT_FLOAT_EQ(settings->delay->seconds, 0.01f);
    const auto stage = stage_from(settings->sections[0], stages_rate_hz);
    ASSERT_TRUE(stage && *stage);
    EXPECT_EQ(std::get<RecursionSpec>(***stage).a[1], double(-1.7f));
}

TEST(ObjectStages, WhatDoesNothingMakesNoStage) {
    for (const Setting& setting :
         {Setting(GainSetting{}), Setting(MuteSetting{}), Setting(PolaritySetting{}),
          Setting(DelaySetting{}), Setting(ParametricSetting{}),
          Setting(ParametricSetting{100, ParametricForm::peak, 1, 0, 0}),
          Setting(PolynomialSetting{}), Setting(FirSetting{}),
          Setting(CurveSetting{{20, 20'000}, {1, 1}, {0, 0}})}) {
        EXPECT_TRUE(is_idle(setting)) << text_of(setting);
        const auto stage = stage_from(setting, stages_rate_hz);
        ASSERT_TRUE(stage) << text_of(setting);
        EXPECT_FALSE(*stage) << text_of(setting);
    }
    EXPECT_FALSE(is_idle(ClassicalSetting{}));
    EXPECT_FALSE(is_idle(ParametricSetting{100, ParametricForm::all_pass, 1, 0, 0}));
    for (const Setting& setting :
         {Setting(GainSetting{-3}), Setting(FirSetting{{0.5f, 0.5f}}),
          Setting(ParametricSetting{200, ParametricForm::low_pass, 0.7f, 0, 0}),
          Setting(PolynomialSetting{{1, 2}, {1, 0.5f}}),
          Setting(CurveSetting{{20, 20'000}, {1, 0.5f}, {0, 1}})}) {
        EXPECT_TRUE(is_idle(idle_setting(setting))) << text_of(setting);
    }
    EXPECT_EQ(idle_setting(CurveSetting{{20, 20'000}, {1, 0.5f}, {0, 1}}),
              Setting(CurveSetting{{20, 20'000}, {1, 1}, {0, 0}}))
        << "a device takes no curve without points";
    const auto curve = stage_from(CurveSetting{{20, 20'000}, {1, 0.5f}, {0, 1}}, stages_rate_hz);
    ASSERT_TRUE(curve && *curve);
    EXPECT_TRUE(std::holds_alternative<TapsSpec>(***curve)) << "taps that go through it";
    EXPECT_FALSE(stage_from(ClassicalSetting{100, Passband::band_pass, ClassicalForm::bessel, 2, 0},
                            stages_rate_hz));
}

} // namespace
} // namespace syntonon::oca
