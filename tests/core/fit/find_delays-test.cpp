// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/all_pass_pair.h"
#include "core/design/classical.h"
#include "core/design/roots.h"
#include "core/fit/recursive/joint_delays.h"
#include "tests/core/fit/recursive_targets.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// An elliptic low-pass over its passband.
DelayAim elliptic_passband() {
    ClassicalSpec low_pass;
    low_pass.family = ClassicalFamily::elliptic;
    low_pass.order = 8;
    low_pass.pass_ripple_db = 0.1;
    low_pass.stop_attenuation_db = 80;
    low_pass.edges_hz = {4000};
    const auto grid = *FrequencyGrid::linear(20, 4000, 300, rate);
    DelayAim aim;
    aim.hz.assign(grid.frequency_hz().begin(), grid.frequency_hz().end());
    aim.delay_samples =
        design(low_pass, brief_at(rate), Watch())->filter.response(grid).group_delay_samples;
    aim.weight.assign(aim.size(), 1);
    return aim;
}

double variation(const DelayAim& aim, const std::vector<double>& added) {
    std::vector<double> sum = aim.delay_samples;
    std::ranges::transform(sum, added, sum.begin(), std::plus());
    const auto [least, most] = std::ranges::minmax(sum);
    return most - least;
}

TEST(AddDelay, IsThatOfTheAllPass) {
    const auto grid = *FrequencyGrid::logarithmic(20, 20'000, 100, rate);
    for (const RootFactor& pole : {RootFactor{true, true, log_image(900, rate), std::log(0.3)},
                                   RootFactor{true, true, log_image(5000, rate), std::log(3.0)},
                                   RootFactor{true, false, log_image(2000, rate), 1}}) {
        Roots all_pass = roots_of(RootFactors{0, false, {pole}});
        for (const auto& root : all_pass.poles) {
            all_pass.zeros.push_back(1.0 / root);
        }
        const auto want = filter_of_roots(all_pass).response(grid).group_delay_samples;
        std::vector<double> delay(grid.size(), 0.0);
        add_delay(pole, grid, delay, {}, {});
        for (std::size_t i = 0; i < grid.size(); ++i) {
            EXPECT_NEAR(delay[i], want[i], 1e-8 * (1 + want[i]));
        }
    }
}

TEST(AddLag, IsThatOfTheAllPassAndHasTheDelayAsItsSlope) {
    const auto grid = *FrequencyGrid::logarithmic(20, 20'000, 100, rate);
    for (const RootFactor& pole : {RootFactor{true, true, log_image(900, rate), std::log(0.3)},
                                   RootFactor{true, true, log_image(5000, rate), std::log(3.0)},
                                   RootFactor{true, false, log_image(2000, rate), 1}}) {
        const Roots all_pass = all_pass_of(roots_of(RootFactors{0, false, {pole}}).poles);
        const auto want = filter_of_roots(all_pass).response(grid).phase_rad;
        std::vector<double> lag(grid.size(), 0.0);
        add_lag(pole, grid, lag, {}, {});
        for (std::size_t i = 0; i < grid.size(); ++i) {
            EXPECT_NEAR(-lag[i], want[i], 1e-8);
        }
    }
}

// To the phase of two pairs, a delay and a turned polarity, which are found again.
TEST(FindDelays, MatchesAPhase) {
    const AllPasses hidden{{{true, true, log_image(70, rate), std::log(1.2)},
                            {true, true, log_image(160, rate), std::log(0.8)}},
                           30,
                           1};
    DelayAim aim;
    const auto grid = *FrequencyGrid::logarithmic(30, 300, 200, rate);
    aim.hz.assign(grid.frequency_hz().begin(), grid.frequency_hz().end());
    aim.weight.assign(aim.size(), 1);
    aim.delay_samples.assign(aim.size(), 0);
    aim.lag_rad.assign(aim.size(), 0);
    for (const RootFactor& pole : hidden.poles) {
        add_lag(pole, grid, aim.lag_rad, {}, {});
        add_delay(pole, grid, aim.delay_samples, {}, {});
    }
    for (std::size_t i = 0; i < aim.size(); ++i) {
        aim.lag_rad[i] = pi - aim.lag_rad[i] - 30 * rad_per_sample_from_hz(aim.hz[i], rate);
        aim.delay_samples[i] = -aim.delay_samples[i] - 30;
    }
    const AllPasses found = find_delays(aim, rate, 4, 20, false, Watch());
    EXPECT_LT(std::sqrt(JointDelays(aim, rate, 20).cost(found)), 0.01) << "half a degree";
    EXPECT_EQ(found.delay_samples, std::round(found.delay_samples));
    EXPECT_EQ(std::abs(found.half_turns) % 2, 1);
}

// What is in phase already stays so: all-passes go where they do nothing.
TEST(FindDelays, LeavesAPhaseThatMatchesAlready) {
    DelayAim aim;
    const auto grid = *FrequencyGrid::logarithmic(40, 200, 200, rate);
    aim.hz.assign(grid.frequency_hz().begin(), grid.frequency_hz().end());
    aim.weight.assign(aim.size(), 1);
    aim.delay_samples.assign(aim.size(), 0);
    aim.lag_rad.assign(aim.size(), 0);
    const AllPasses found = find_delays(aim, rate, 4, 20, false, Watch());
    EXPECT_LT(std::sqrt(JointDelays(aim, rate, 20).cost(found)), 0.01) << "half a degree";
}

TEST(JointDelays, ErrorsHaveTheSlopesOfTheirDifferences) {
    DelayAim aim = elliptic_passband();
    for (const bool by_phase : {false, true}) {
        aim.lag_rad.assign(by_phase ? aim.size() : 0, 0.5);
        const JointDelays task(aim, rate, 100);
        AllPasses found{{{true, true, log_image(900, rate), std::log(0.3)},
                         {true, false, log_image(2000, rate), 1},
                         {true, true, log_image(3500, rate), std::log(2.5)}},
                        40};
        const std::size_t rows = aim.size(), numbers = JointDelays::number_count(found);
        std::vector<double> slopes(rows * numbers);
        task.error_slopes(found, slopes);
        constexpr double step = 1e-6;
        std::size_t number = 0;
        const auto expect_slope = [&](double& of) {
            std::vector<double> above(rows), below(rows);
            of += step;
            task.errors(found, above);
            of -= 2 * step;
            task.errors(found, below);
            of += step;
            for (std::size_t row = 0; row < rows; row += 7) {
                const double want = (above[row] - below[row]) / (2 * step);
                EXPECT_NEAR(slopes[row * numbers + number], want, 1e-5 * (1 + std::abs(want)));
            }
            ++number;
        };
        expect_slope(found.delay_samples);
        for (RootFactor& pole : found.poles) {
            expect_slope(pole.log_a);
            if (pole.is_pair) {
                expect_slope(pole.turn);
            }
        }
    }
}

TEST(FindDelays, FlattenAnEllipticPassbandFiveTimesBySixSections) {
    const DelayAim aim = elliptic_passband();
    const JointDelays task(aim, rate, 100);
    const double before = variation(aim, std::vector<double>(aim.size(), 0.0));
    const AllPasses found = find_delays(aim, rate, 12, 100, true, Watch());
    EXPECT_EQ(found.poles.size(), 6U);
    EXPECT_LT(variation(aim, task.delay_samples(found)), before / 5);
}

TEST(FindDelays, LeaveLessTheMoreThereAre) {
    const DelayAim aim = elliptic_passband();
    const JointDelays task(aim, rate, 100);
    AllPasses none;
    task.choose_delay(none);
    double last = task.cost(none);
    for (const int order : {1, 2, 5, 10}) {
        const double now = task.cost(find_delays(aim, rate, order, 100, false, Watch()));
        EXPECT_LT(now, last);
        last = now;
    }
}

// An all-pass lacks: it is found.
TEST(FindDelays, FindTheAllPassThatIsMissing) {
    const RootFactor missing{true, true, log_image(1200, rate), std::log(0.5)};
    DelayAim aim;
    aim.hz = audio_places();
    const auto grid = *FrequencyGrid::from_frequencies(aim.hz, rate);
    std::vector<double> delay(aim.size(), 0.0);
    add_delay(missing, grid, delay, {}, {});
    for (const double late : delay) {
        aim.delay_samples.push_back(-late);
    }
    aim.weight.assign(aim.size(), 1);
    aim.up_to_a_delay = false;
    const AllPasses found = find_delays(aim, rate, 2, 100, false, Watch());
    ASSERT_EQ(found.poles.size(), 1U);
    EXPECT_NEAR(found.poles[0].log_a, missing.log_a, 1e-4);
    EXPECT_NEAR(found.poles[0].turn, missing.turn, 1e-4);
    EXPECT_EQ(found.delay_samples, 0);
}

} // namespace
} // namespace syntonon
