// Sections and all-passes fitted together to level and timing.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/fit/fit_correction.h"
#include "core/fit/fitted_to.h"
#include "core/fit/joint_timing.h"
#include "tests/core/fit/corrected_rooms.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

SectionsCorrection& sections_in(CorrectionSpec& spec) {
    return std::get<SectionsCorrection>(spec.method);
}

CorrectionSpec timed_spec(CorrectionMatch match, int sections, int all_passes) {
    CorrectionSpec spec;
    spec.boost_limit_db = 12;
    spec.spread_db = spec.dip_db = 0;
    sections_in(spec).count = sections;
    sections_in(spec).all_passes = all_passes;
    sections_in(spec).match = match;
    return spec;
}

// Seen at one position: the filter behind a delay, with phase.
Brief brief_seeing_phase(const Filter& filter, double delay_s) {
    Brief brief = brief_seeing({level_of(filter)});
    SampledCurve curve = *brief.seen.as_one;
    for (const double hz : curve.frequency_hz) {
        const double rad = filter.response_at(hz, rate).phase_rad - 2 * pi * hz * delay_s;
        curve.phase_deg.push_back(deg_from_rad(std::remainder(rad, 2 * pi)));
    }
    const auto shared = std::make_shared<const SampledCurve>(std::move(curve));
    brief.seen.positions.front().curve = brief.seen.as_one = brief.seen.timing = shared;
    return brief;
}

// What a chain's phase shall be: that of a filter.
std::shared_ptr<const WishedTiming> phase_like(const Filter& filter) {
    WishedLine line;
    for (double hz = 20; hz < 20'000; hz *= std::exp2(1.0 / 48)) {
        line.frequency_hz.push_back(hz);
    }
    const auto grid = *FrequencyGrid::from_frequencies(line.frequency_hz, rate);
    for (const double rad : filter.response(grid).phase_rad) {
        line.value.push_back(deg_from_rad(rad));
    }
    return std::make_shared<const WishedTiming>(WishedTiming{{line}, {}});
}

std::shared_ptr<const WishedTiming> delay_like(const Filter& filter) {
    WishedTiming timing = *phase_like(filter);
    WishedLine line = timing.phase_deg.front();
    for (std::size_t i = 0; i < line.value.size(); ++i) {
        line.value[i] =
            1e3 * filter.response_at(line.frequency_hz[i], rate).group_delay_samples / rate;
    }
    return std::make_shared<const WishedTiming>(WishedTiming{{}, {line}});
}

TimingError timing_after(const CorrectionSpec& found, const Brief& brief) {
    return *timing_error_of(found, *correction_aim(found, brief), rate);
}

std::size_t all_passes_in(const CorrectionSpec& spec) {
    return static_cast<std::size_t>(std::ranges::count_if(
        std::get<SectionsCorrection>(spec.method).found, [](const FoundSection& found) {
            return found.section.shape == ParametricShape::all_pass;
        }));
}

Filter two_all_passes() {
    return series(std::vector{section(ParametricShape::all_pass, 120, 0, 0.8),
                              section(ParametricShape::all_pass, 2100, 0, 1.4)});
}

TEST(FitTiming, FindsTheAllPassesOfAPhaseThatIsStated) {
    Brief brief = brief_seeing({level_of(two_bells())});
    // Bells as they are needed, and two all-passes.
    const Filter wanted =
        series(std::vector{section(ParametricShape::peak, 150, -7, 2),
                           section(ParametricShape::peak, 2500, 5, 1.2), two_all_passes()});
    brief.wished_timing = phase_like(wanted);
    const auto found = fit(timed_spec(CorrectionMatch::complex, 3, 3), brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_LT(timing_after(*found, brief).worst, 6);
    const CorrectionAim aim = *correction_aim(*found, brief);
    EXPECT_LT(error_of(aim, aim.seen_db, found_gain_db(*found, aim, rate)).worst_db, 0.5);
    EXPECT_LE(all_passes_in(*found), 3U);
    EXPECT_EQ(std::get<SectionsCorrection>(found->method).delay_ms, 0)
        << "a stated phase leaves no delay open";
}

TEST(FitTiming, FindsTheAllPassesOfAGroupDelayThatIsStated) {
    Brief brief = brief_seeing({[](double) { return 0.0; }});
    brief.wished_timing = delay_like(two_all_passes());
    const auto found = fit(timed_spec(CorrectionMatch::delay, 2, 3), brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    const TimingError before = timing_after(timed_spec(CorrectionMatch::delay, 2, 3), brief);
    EXPECT_GT(before.rms, 1.0);
    EXPECT_LT(timing_after(*found, brief).rms, 0.02 * before.rms);
}

// What an all-pass of the room does late at low frequencies is waited for at the others.
TEST(FitTiming, MakesAMeasuredPhaseFlatterUpToADelay) {
    const Filter room = series(std::vector{section(ParametricShape::peak, 900, 5, 1),
                                           section(ParametricShape::all_pass, 300, 0, 0.6)});
    const Brief brief = brief_seeing_phase(room, 0.0005);
    const CorrectionSpec spec = timed_spec(CorrectionMatch::complex, 3, 6);
    CorrectionSpec higher = spec;
    higher.from_hz = 100;
    higher.to_hz = 3000;
    const auto found = fit(higher, brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    const TimingError before = timing_after(higher, brief), after = timing_after(*found, brief);
    EXPECT_LT(after.rms, before.rms / 3) << before.rms;
    EXPECT_GT(std::get<SectionsCorrection>(found->method).delay_ms, 0.5);
}

TEST(FitTiming, NeedsNoAllPassesForWhatIsMinimumPhase) {
    const Brief brief = brief_seeing_phase(two_bells(), 0.0005);
    const auto found = fit(timed_spec(CorrectionMatch::complex, 4, 4), brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_LT(timing_after(*found, brief).rms, 3);
}

TEST(FitTiming, KeepsLockedAllPassesAndCountsThem) {
    Brief brief = brief_seeing({level_of(two_bells())});
    brief.wished_timing = phase_like(two_all_passes());
    CorrectionSpec spec = timed_spec(CorrectionMatch::complex, 3, 2);
    const ParametricSpec locked = parametric(ParametricShape::all_pass, 120, 0, 0.8);
    sections_in(spec).found = {{locked, true, {}}};
    const auto found = fit(spec, brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_LE(all_passes_in(*found), 2U);
    EXPECT_TRUE(std::ranges::any_of(
        std::get<SectionsCorrection>(found->method).found,
        [&](const FoundSection& one) { return one.locked && one.section == locked; }));
}

TEST(FitTiming, KeepsToTheLimitsOfTheLevel) {
    Brief brief = brief_seeing({level_of(two_bells())});
    brief.wished_timing = phase_like(two_all_passes());
    CorrectionSpec spec = timed_spec(CorrectionMatch::complex, 4, 2);
    spec.boost_limit_db = 2;
    spec.cut_limit_db = 3;
    sections_in(spec).gain_step_db = 0.5;
    sections_in(spec).frequency_steps_oct = 12;
    const auto found = fit(spec, brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    const CorrectionAim aim = *correction_aim(*found, brief);
    for (const double db : found_gain_db(*found, aim, rate)) {
        EXPECT_LE(db, 2 + 1e-9);
        EXPECT_GE(db, -3 - 1e-9);
    }
    EXPECT_GE(all_passes_in(*found), 1U) << "rounding gains throws no all-pass away";
}

TEST(FitTiming, RefusesASetWithoutPhase) {
    const auto refused = fit(timed_spec(CorrectionMatch::complex, 3, 2),
                             brief_seeing({level_of(two_bells())}), Watch());
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "match");
    EXPECT_NE(to_text(refused.error()).find("phase"), std::string::npos);
}

TEST(FitTiming, IsOutOfDateByItsPhase) {
    Brief brief = brief_seeing({level_of(two_bells())});
    brief.wished_timing = phase_like(two_all_passes());
    const auto found = fit(timed_spec(CorrectionMatch::complex, 3, 2), brief, Watch());
    ASSERT_TRUE(found);
    EXPECT_FALSE(out_of_date(*found, *correction_aim(*found, brief)));
    brief.wished_timing = phase_like(section(ParametricShape::all_pass, 130, 0, 0.8));
    const auto now = out_of_date(*found, *correction_aim(*found, brief));
    ASSERT_TRUE(now);
    EXPECT_TRUE(now->by_phase);
    EXPECT_NE(now->text().find("°"), std::string::npos);
}

// The solver is handed slopes in closed form: they are those of the errors.
TEST(JointTiming, ErrorSlopesAreTheirDifferences) {
    Brief brief = brief_seeing_phase(two_bells(), 0.001);
    for (const CorrectionMatch match : {CorrectionMatch::complex, CorrectionMatch::delay}) {
        const CorrectionSpec spec = timed_spec(match, 2, 2);
        const CorrectionAim aim = *correction_aim(spec, brief);
        const JointTiming task(spec, aim, rate);
        const std::size_t places = task.grid().size();
        std::vector<double> phase(places), slope(places);
        for (std::size_t i = 0; i < places; ++i) {
            phase[i] = 0.01 * static_cast<double>(i);
            slope[i] = std::sin(0.1 * static_cast<double>(i));
        }
        std::vector<double> by_number(task.error_count()), by_delay(task.error_count());
        constexpr double delay_s = 2e-4, h = 1e-6;
        task.error_slopes(phase, delay_s, slope, by_number.data(), by_delay.data());
        const auto errors = [&](double turned, double delay) {
            std::vector<double> at = phase, out(task.error_count());
            for (std::size_t i = 0; i < places; ++i) {
                at[i] += turned * slope[i];
            }
            task.errors(at, delay, out);
            return out;
        };
        const auto up = errors(h, delay_s), down = errors(-h, delay_s);
        const auto late = errors(0, delay_s + 1e-3 * h), early = errors(0, delay_s - 1e-3 * h);
        for (std::size_t r = 0; r < task.error_count(); ++r) {
            EXPECT_NEAR(by_number[r], (up[r] - down[r]) / (2 * h), 1e-6);
            EXPECT_NEAR(by_delay[r], (late[r] - early[r]) / (2e-3 * h),
                        1e-5 * std::abs(by_delay[r]) + 1e-3);
        }
    }
}

} // namespace
} // namespace syntonon
