// Gain, delay and taps: what they design, refuse and say.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/delay.h"
#include "core/design/gain.h"
#include "core/design/taps.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

template <class Spec>
Expected<Design> made(const Spec& spec) {
    return design(spec, brief_at(48000), {});
}

template <class Spec>
std::string refused_place(const Spec& spec) {
    const auto result = made(spec);
    return result ? "designed" : result.error().place;
}

TEST(GainKind, SaysItInDecibelsOrAsAFactor) {
    EXPECT_NEAR(made(GainSpec{-6, false, {}})->filter.impulse_response(1)[0],
                std::pow(10, -6 / 20.0), 1e-15);
    EXPECT_NEAR(made(GainSpec{6, true, {}})->filter.impulse_response(1)[0], -std::pow(10, 0.3),
                1e-15);
    EXPECT_EQ(made(GainSpec{0, false, -0.25})->filter.impulse_response(1)[0], -0.25);
    EXPECT_EQ(summary_of(GainSpec{-6, true, {}}), "−6.0 dB, inverted");
    EXPECT_EQ(spoken_name_of(GainSpec{0, false, 0.5}), "Gain × 0.5");
    EXPECT_EQ(refused_place(GainSpec{500, false, {}}), "gain_db");
    EXPECT_EQ(refused_place(GainSpec{0, false, NAN}), "factor");
}

TEST(DelayKind, IsTheNearestWholeNumberOfSamples) {
    EXPECT_EQ(made(DelaySpec{DelayUnit::samples, 7})->filter.latency_samples(), 7);
    EXPECT_EQ(made(DelaySpec{DelayUnit::ms, 2.1})->filter.latency_samples(), 101); // 100.8
    // 3.43 m at 343 m/s take 10 ms.
    EXPECT_EQ(made(DelaySpec{DelayUnit::metres, 3.43})->filter.latency_samples(), 480);
    EXPECT_NEAR(value_in(DelayUnit::metres, {DelayUnit::ms, 10}, 48000), 3.43, 1e-12);
    EXPECT_NEAR(value_in(DelayUnit::samples, {DelayUnit::ms, 10}, 48000), 480, 1e-9);
    EXPECT_EQ(refused_place(DelaySpec{DelayUnit::ms, -1}), "ms");
    EXPECT_EQ(refused_place(DelaySpec{DelayUnit::metres, 1e8}), "metres");
    EXPECT_EQ(made(DelaySpec{DelayUnit::samples, 48000.0 * 3600})->filter.latency_samples(),
              48000 * 3600);
    EXPECT_EQ(refused_place(DelaySpec{DelayUnit::samples, 48000.0 * 3600 + 1}), "samples");
    EXPECT_EQ(made(DelaySpec{DelayUnit::ms, 3601e3}).error().way_out, "stay at or below one hour");
    EXPECT_EQ(summary_of(DelaySpec{DelayUnit::samples, 48000.0 * 3600}), "172800000 samples");
    EXPECT_EQ(summary_of(DelaySpec{DelayUnit::samples, 1}), "1 sample");
    const Working working = made(DelaySpec{DelayUnit::ms, 2.1})->working();
    EXPECT_EQ(working.steps[0].numbers[3].symbol, "N − D");
    EXPECT_NEAR(working.steps[0].numbers[3].value, 0.2, 1e-9);
}

TEST(TapsKind, IsItsTaps) {
    const TapsSpec spec{std::make_shared<const std::vector<double>>(std::vector{0.25, 0.5, 0.25})};
    const auto result = made(spec);
    EXPECT_EQ(result->filter.impulse_response(4), (std::vector<double>{0.25, 0.5, 0.25, 0}));
    EXPECT_EQ(result->filter.cost().taps, 3);
    const Working working = result->working();
    const auto number = [&](std::string_view symbol) {
        const auto& all = working.steps[0].numbers;
        return std::ranges::find(all, symbol, &WorkingNumber::symbol)->value;
    };
    EXPECT_EQ(number("N"), 3);
    EXPECT_EQ(number("N − 1"), 2) << "the order";
    EXPECT_EQ(number("(N − 1)/2"), 1) << "symmetric: delay of one sample";
    EXPECT_EQ(number("Σ h"), 1) << "gain at 0 Hz";
    EXPECT_EQ(number("Σ (−1)ⁿ h"), 0) << "gain at half the rate";
    EXPECT_EQ(number("max |h|"), 0.5);
    EXPECT_EQ(number("N−100"), 3) << "none is below -100 dB";
    EXPECT_NEAR(number("Epre"), 10 * std::log10(0.0625 / 0.375), 1e-12);
    EXPECT_EQ(summary_of(spec), "3 taps");
    EXPECT_EQ(refused_place(TapsSpec{std::make_shared<const std::vector<double>>()}), "taps");
    EXPECT_EQ(refused_place(TapsSpec{
                  std::make_shared<const std::vector<double>>(std::vector<double>{1, INFINITY})}),
              "taps[1]");
}

TEST(Fields, SetWhatTheyGet) {
    // For every kind: a field that is set applies and gives the number back.
    const auto try_all = []<class Spec>(Spec) {
        for (const NumberField<Spec>& field : fields_of(Spec())) {
            Spec spec;
            field.set(spec, field.least);
            EXPECT_EQ(field.get(spec), field.least) << field.key;
        }
    };
    try_all(GainSpec());
    try_all(DelaySpec());
    EXPECT_EQ(hash_of_fields(GainSpec{3, false, {}}), hash_of_fields(GainSpec{3, false, {}}));
    EXPECT_NE(hash_of_fields(GainSpec{3, false, {}}), hash_of_fields(GainSpec{0, false, 3}));
}

} // namespace
} // namespace syntonon
