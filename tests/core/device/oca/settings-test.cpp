// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/settings.h"

#include "core/device/oca/setting_bytes.h"
#include "core/device/oca/setting_numbers.h"
#include "core/device/oca/setting_text.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

Limits all_limits() {
    Limits limits;
    limits.frequency_hz = Range{20, 20'000};
    limits.width = Range{0.1f, 100};
    limits.gain_db = Range{-24, 12};
    limits.form_parameter = Range{0, 1};
    limits.delay_s = Range{0, 0.5f};
    limits.order = Range{1, 8};
    limits.most_order = 2;
    limits.taps = 1024;
    limits.least_points = 2;
    limits.most_points = 100;
    limits.sample_rate_hz = 48'000;
    return limits;
}

std::vector<Setting> settings() {
    return {GainSetting{-6.5f},
            MuteSetting{true},
            PolaritySetting{true},
            DelaySetting{0.0125f},
            ParametricSetting{1000, ParametricForm::high_shelf, 0.7f, -3, 0.5f},
            ClassicalSetting{80, Passband::high_pass, ClassicalForm::linkwitz_riley, 4, 0.5f},
            PolynomialSetting{{1, -1.9f, 0.95f}, {1, -1.8f, 0.9f}},
            FirSetting{{0.25f, 0.5f, 0.25f}},
            CurveSetting{{100, 1000}, {1, 0.5f}, {0, -1}}};
}

TEST(OcaSettings, ComeBackFromWhatADeviceAnswers) {
    for (const Setting& setting : settings()) {
        const Kind kind = kind_of(setting);
        const std::vector<Parameters> answers = answers_of({setting, all_limits()});
        ASSERT_EQ(answers.size(), reading_methods(kind).size()) << class_of(kind).name;
        const auto state = state_from(kind, answers);
        ASSERT_TRUE(state) << class_of(kind).name;
        EXPECT_EQ(state->setting, setting) << class_of(kind).name;
    }
}

TEST(OcaSettings, ComeBackFromTheCallThatSetsThem) {
    for (const Setting& setting : settings()) {
        const auto read = setting_in(kind_of(setting), call_to_set(setting).parameters);
        ASSERT_TRUE(read) << text_of(setting);
        EXPECT_EQ(*read, setting) << text_of(setting);
    }
}

// AES70-2: the values of SetMultiple in the order of the properties after the mask.
TEST(OcaSettings, StandAsTheStandardHasThem) {
    const SettingCall call = call_to_set(ParametricSetting{1, ParametricForm::peak, 2, -2, 0});
    EXPECT_EQ(call.method, (MethodId{4, 11}));
    EXPECT_EQ(call.parameters.count, 6);
    EXPECT_EQ(call.parameters.bytes,
              (Bytes{0xff, 0xff, 0x3f, 0x80, 0, 0, 1, 0x40, 0, 0, 0, 0xc0, 0, 0, 0, 0, 0, 0, 0}));
    EXPECT_EQ(call_to_set(MuteSetting{true}).parameters.bytes, Bytes{1});
    EXPECT_EQ(call_to_set(MuteSetting{false}).parameters.bytes, Bytes{2});
    EXPECT_EQ(call_to_set(PolaritySetting{true}).parameters.bytes, Bytes{2});
    EXPECT_EQ(call_to_set(FirSetting{{1}}).method, (MethodId{4, 3}));
    EXPECT_EQ(call_to_set(FirSetting{{1}}).parameters.bytes, (Bytes{0, 1, 0x3f, 0x80, 0, 0}));
    EXPECT_EQ(call_to_set(PolynomialSetting{{1}, {1}}).parameters.count, 2);
}

TEST(OcaSettings, LimitsAreRead) {
    const auto read =
        state_from(Kind::parametric_filter, answers_of({ParametricSetting{}, all_limits()}));
    ASSERT_TRUE(read);
    EXPECT_EQ(read->limits.frequency_hz, (Range{20, 20'000}));
    EXPECT_EQ(read->limits.gain_db, (Range{-24, 12}));
    const auto fir = state_from(Kind::fir_filter, answers_of({FirSetting{}, all_limits()}));
    ASSERT_TRUE(fir);
    EXPECT_EQ(fir->limits.taps, 1024u);
    EXPECT_EQ(fir->limits.sample_rate_hz, 48'000.0f);
}

TEST(OcaSettings, AnswersOfNoSuchClassAreRefused) {
    for (const Setting& setting : settings()) {
        const Kind kind = kind_of(setting);
        std::vector<Parameters> answers = answers_of({setting, all_limits()});
        for (Parameters& answer : answers) {
            const Parameters kept = answer;
            answer.bytes.pop_back();
            EXPECT_FALSE(state_from(kind, answers)) << text_of(setting);
            answer.bytes = kept.bytes;
            answer.bytes.push_back(0);
            EXPECT_FALSE(state_from(kind, answers)) << text_of(setting);
            answer = kept;
        }
        answers.pop_back();
        EXPECT_FALSE(state_from(kind, answers)) << text_of(setting);
    }
    Writer nan;
    nan.f32(std::nanf(""));
    EXPECT_FALSE(state_from(Kind::gain, {{1, nan.bytes()}}));
    EXPECT_FALSE(state_from(Kind::mute, {{1, {3}}}));
}

TEST(OcaSettings, WhatAnObjectCannotTakeIsSaid) {
    const Limits limits = all_limits();
    for (const Setting& setting : settings()) {
        EXPECT_TRUE(check_within(setting, limits)) << text_of(setting);
    }
    const auto refused = [&](const Setting& setting, std::string_view what) {
        const auto ok = check_within(setting, limits);
        ASSERT_FALSE(ok) << text_of(setting);
        EXPECT_NE(to_text(ok.error()).find(what), std::string::npos) << to_text(ok.error());
        EXPECT_FALSE(ok.error().way_out.empty());
    };
    refused(GainSetting{20}, "20 is not within -24 to 12");
    refused(ParametricSetting{15, ParametricForm::peak, 1, 0, 0}, "frequency_hz: 15");
    refused(ClassicalSetting{80, Passband::high_pass, ClassicalForm::bessel, 9, 0}, "order");
    refused(PolynomialSetting{{1, 2, 3, 4}, {1}}, "greatest order of 2");
    refused(FirSetting{std::vector<float>(1025)}, "1025 are more than the 1024");
    refused(CurveSetting{{1}, {1}, {1}}, "less than the 2");
    refused(GainSetting{INFINITY}, "32-bit");
}

TEST(OcaSettings, AreComparedByTheirNumbers) {
    const PolynomialSetting a{{1, -1.5f}, {1, -0.5f}};
    PolynomialSetting b = a;
    EXPECT_EQ(difference(a, b), 0);
    b.numerator[1] = -1.5f + 0.0015f;
    EXPECT_NEAR(difference(a, b), 0.001, 1e-6);
    b.numerator.push_back(0);
    EXPECT_TRUE(std::isinf(difference(a, b)));
    EXPECT_TRUE(std::isinf(difference(MuteSetting{true}, MuteSetting{false})));
    EXPECT_TRUE(std::isinf(difference(GainSetting{}, DelaySetting{})));
    EXPECT_NEAR(difference(GainSetting{0}, GainSetting{0.25f}), 0.25, 1e-12);
}

} // namespace
} // namespace syntonon::oca
