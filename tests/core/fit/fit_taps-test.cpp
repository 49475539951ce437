// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_taps.h"

#include "core/base/units.h"
#include "core/fit/fit_correction.h"
#include "tests/core/fit/corrected_rooms.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Phase = TapsCorrection::Phase;

CorrectionSpec with_taps(Phase phase, int length) {
    CorrectionSpec spec;
    spec.boost_limit_db = 12;
    spec.spread_db = spec.dip_db = 0;
    TapsCorrection method;
    method.phase = phase;
    method.length = length;
    spec.method = method;
    return spec;
}

TapsCorrection& taps_of(CorrectionSpec& spec) {
    return std::get<TapsCorrection>(spec.method);
}

// With phase, from the filter itself.
std::shared_ptr<const SampledCurve> with_phase_of(const Filter& filter) {
    SampledCurve curve;
    for (double hz = 10; hz < 23'500; hz *= std::exp2(1.0 / 96)) {
        curve.frequency_hz.push_back(hz);
    }
    const auto grid = *FrequencyGrid::from_frequencies(curve.frequency_hz, rate);
    const Response response = filter.response(grid);
    curve.level_db = response.magnitude_db;
    for (const double rad : response.phase_rad) {
        curve.phase_deg.push_back(deg_from_rad(rad));
    }
    return std::make_shared<const SampledCurve>(std::move(curve));
}

Brief brief_hearing(const std::vector<Filter>& positions) {
    Brief brief = brief_at(rate);
    brief.wished =
        std::make_shared<const Wished>(Wished{WishedPart{{20, 20'000}, {0, 0}, {}, {}, {}}});
    for (const Filter& position : positions) {
        brief.seen.positions.push_back({with_phase_of(position), 1});
    }
    brief.seen.as_one = brief.seen.timing = brief.seen.positions.front().curve;
    return brief;
}

// Two bells, and an all-pass that delays what lies about 150 Hz by several milliseconds.
Filter late_room(double all_pass_hz = 150) {
    return series(std::vector{two_bells(), section(ParametricShape::all_pass, all_pass_hz, 0, 2)});
}

double greatest_error_db(const FoundTaps& found, const CorrectionAim& aim) {
    const Filter filter(Taps(found.taps));
    const auto grid = *FrequencyGrid::logarithmic(20, 20'000, 400, rate);
    const auto level = filter.magnitude_db(grid);
    double worst = 0;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        worst = std::max(worst, std::abs(level[i] - wanted_gain_db(aim, grid.frequency_hz()[i])));
    }
    return worst;
}

TEST(FitTaps, TheGainFadesBeyondTheRange) {
    CorrectionAim aim;
    aim.hz = {100, 200, 400};
    aim.gain_db = {4, 0, -6};
    EXPECT_NEAR(wanted_gain_db(aim, std::sqrt(100.0 * 200)), 2, 1e-12);
    EXPECT_NEAR(wanted_gain_db(aim, 50), 2, 1e-12);
    EXPECT_EQ(wanted_gain_db(aim, 25), 0);
    EXPECT_EQ(wanted_gain_db(aim, 0), 0);
    EXPECT_NEAR(wanted_gain_db(aim, 800), -3, 1e-12);
    EXPECT_EQ(wanted_gain_db(aim, 20'000), 0);
}

TEST(FitTaps, EachPhaseKeepsTheLevelThatWasAimedFor) {
    const Brief brief = brief_hearing({late_room()});
    for (const Phase phase : {Phase::minimum, Phase::linear, Phase::mixed}) {
        const CorrectionSpec spec = with_taps(phase, 16'384);
        const CorrectionAim aim = *correction_aim(spec, brief);
        const auto found = find_taps(spec, aim, brief, Watch());
        ASSERT_TRUE(found) << to_text(found.error());
        EXPECT_EQ(found->taps.size(), 16'384U);
        EXPECT_LT(greatest_error_db(*found, aim), 0.2) << static_cast<int>(phase);
    }
}

TEST(FitTaps, MinimumPhaseComesAtOnceAndLinearPhaseIsSymmetric) {
    const Brief brief = brief_hearing({late_room()});
    CorrectionSpec spec = with_taps(Phase::minimum, 4096);
    const auto minimum = find_taps(spec, *correction_aim(spec, brief), brief, Watch());
    const auto size = [](double x) { return std::abs(x); };
    EXPECT_EQ(std::ranges::max_element(minimum->taps, {}, size) - minimum->taps.begin(), 0);
    EXPECT_EQ(minimum->delay_samples, 0);
    spec = with_taps(Phase::linear, 4095);
    const auto linear = find_taps(spec, *correction_aim(spec, brief), brief, Watch());
    EXPECT_EQ(linear->delay_samples, 2047);
    EXPECT_NE(Taps(linear->taps).symmetry(), 0);
}

// What the room does to timing below the frequency that was found is taken back, and no louder
// ringing before the sound than allowed.
TEST(FitTaps, MixedPhaseTakesBackWhatTheRoomDoesLate) {
    const Brief brief = brief_hearing({late_room()});
    CorrectionSpec spec = with_taps(Phase::mixed, 32'768);
    taps_of(spec).pre_ringing_db = -40;
    const auto found = find_taps(spec, *correction_aim(spec, brief), brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_GT(found->timing_up_to_hz, 400);
    const Filter all = series(std::vector{late_room(), Filter(Taps(found->taps))});
    const auto delay_ms = [&](const Filter& filter, double hz) {
        return filter.response_at(hz, rate).group_delay_samples / rate * 1e3;
    };
    const double late = delay_ms(late_room(), 150) - delay_ms(late_room(), 1000);
    EXPECT_GT(late, 5) << "else this tells nothing";
    for (const double hz : {80.0, 120.0, 150.0, 200.0}) {
        EXPECT_NEAR(delay_ms(all, hz), delay_ms(all, 1000), 0.6) << hz;
    }
    ASSERT_EQ(found->pre_ringing_db.size(), 1U);
    EXPECT_LE(found->pre_ringing_db[0], -40);
}

// The second seat's all-pass stands elsewhere: what is right for the first rings there.
TEST(FitTaps, PreRingingIsLimitedAtEveryPosition) {
    const Brief brief = brief_hearing({late_room(150), late_room(420)});
    CorrectionSpec spec = with_taps(Phase::mixed, 16'384);
    const CorrectionAim aim = *correction_aim(spec, brief);
    double last = infinity;
    for (const double limit_db : {-20.0, -35.0, -60.0}) {
        taps_of(spec).pre_ringing_db = limit_db;
        const auto found = find_taps(spec, aim, brief, Watch());
        ASSERT_TRUE(found);
        EXPECT_LE(found->timing_up_to_hz, last) << limit_db;
        last = found->timing_up_to_hz;
        // As a listener would find it: the seat's own impulse response through the filter.
        for (const double hz : {150.0, 420.0}) {
            auto response = series(std::vector{late_room(hz), Filter(Taps(found->taps))})
                                .impulse_response(1 << 15);
            EXPECT_LE(pre_ringing_level_db(response, 0.005, rate), limit_db + 1) << hz;
        }
    }
    EXPECT_LT(last, 300);
}

TEST(FitTaps, PreRingingIsWhatComesEarlierThanSo) {
    std::vector<double> response(1000, 0.0);
    response[500] = -1;
    response[450] = 0.1;
    response[100] = 0.01;
    response[600] = 0.9;
    EXPECT_NEAR(pre_ringing_level_db(response, 0.001, 48'000), -20, 1e-9);
    EXPECT_NEAR(pre_ringing_level_db(response, 0.002, 48'000), -40, 1e-9);
}

TEST(FitTaps, AFitWritesThemIntoTheSpec) {
    const Brief brief = brief_hearing({late_room()});
    const auto fitted = fit(with_taps(Phase::minimum, 4096), brief, Watch());
    ASSERT_TRUE(fitted) << to_text(fitted.error());
    EXPECT_EQ(std::get<TapsCorrection>(fitted->method).found->size(), 4096U);
    EXPECT_FALSE(fitted->fitted_to.empty());
    const auto made = design(*fitted, brief, Watch());
    ASSERT_TRUE(made);
    EXPECT_NEAR(made->filter.response_at(2500, rate).magnitude_db, 5, 0.4);
}

// The same filter, later by what was asked for.
TEST(FitTaps, TheSoundStandsWhereItWasAskedFor) {
    const Brief brief = brief_hearing({late_room()});
    for (const Phase phase : {Phase::minimum, Phase::linear, Phase::mixed}) {
        CorrectionSpec spec = with_taps(phase, 16'384);
        taps_of(spec).delay_samples = 7000;
        const CorrectionAim aim = *correction_aim(spec, brief);
        const auto found = find_taps(spec, aim, brief, Watch());
        ASSERT_TRUE(found) << to_text(found.error());
        EXPECT_EQ(found->delay_samples, 7000);
        EXPECT_EQ(found->taps.size(), 16'384U);
        EXPECT_LT(greatest_error_db(*found, aim), 0.3) << static_cast<int>(phase);
        const auto size = [](double x) { return std::abs(x); };
        const auto main = std::ranges::max_element(found->taps, {}, size) - found->taps.begin();
        EXPECT_NEAR(static_cast<double>(main), 7000, 2);
    }
}

TEST(FitTaps, TheWindowWeightsWhatIsFarFromTheSound) {
    const Brief brief = brief_hearing({late_room()});
    CorrectionSpec spec = with_taps(Phase::minimum, 4096);
    const CorrectionAim aim = *correction_aim(spec, brief);
    taps_of(spec).window = {WindowShape::rectangular, 0, {}};
    const auto whole = find_taps(spec, aim, brief, Watch());
    taps_of(spec).window = {WindowShape::hann, 0, {}};
    const auto faded = find_taps(spec, aim, brief, Watch());
    ASSERT_TRUE(whole && faded);
    EXPECT_EQ(whole->taps[0], faded->taps[0]);
    for (const std::size_t n : {1000U, 2047U, 3000U}) {
        const double half = std::cos(pi / 2 * static_cast<double>(n) / 4095);
        EXPECT_NEAR(faded->taps[n], whole->taps[n] * half * half, 1e-9) << n;
    }
    taps_of(spec).window = {WindowShape::tukey, 3, {}};
    EXPECT_EQ(check_settings(spec).error().place, "window_parameter");
}

TEST(FitTaps, SaysWhatIsMissing) {
    Brief brief = brief_hearing({late_room()});
    const auto place = [&](const CorrectionSpec& spec) {
        const auto fitted = fit(spec, brief, Watch());
        return fitted ? std::string("fitted") : fitted.error().place;
    };
    EXPECT_EQ(place(with_taps(Phase::minimum, 1000)), "length") << "less than a period of 40 Hz";
    CorrectionSpec late = with_taps(Phase::minimum, 4096);
    taps_of(late).delay_samples = 4096;
    EXPECT_EQ(place(late), "delay_samples");
    brief.seen.timing = nullptr;
    EXPECT_EQ(place(with_taps(Phase::mixed, 4096)), "phase");
    EXPECT_EQ(place(with_taps(Phase::linear, 4096)), "fitted");
}

} // namespace
} // namespace syntonon
