// SPDX-License-Identifier: GPL-3.0-or-later
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

TEST(JointDelays, ErrorsHaveTheSlopesOfTheirDifferences) {
    const DelayAim aim = elliptic_passband();
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
    double last = task.cost({{}, task.best_delay_samples({})});
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
