// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/find_roots.h"

#include "core/design/roots.h"
#include "core/filter/stability.h"
#include "core/fit/recursive/vector_fit.h"
#include "tests/core/fit/recursive_targets.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

// Of a filter, at places that do not favour it.
ResponseAim aim_of_filter(const Filter& filter, bool with_phase) {
    ResponseAim aim;
    aim.hz = audio_places();
    const auto grid = *FrequencyGrid::from_frequencies(aim.hz, rate);
    const Response response = filter.response(grid);
    aim.level_db = response.magnitude_db;
    aim.weight.assign(aim.size(), 1);
    if (with_phase) {
        aim.phase_rad = response.phase_rad;
    }
    return aim;
}

Roots some_roots(bool with_zero_outside) {
    Roots roots;
    const auto add = [](auto& list, std::complex<double> root) {
        list.push_back(root);
        list.push_back(std::conj(root));
    };
    add(roots.poles, std::polar(0.998, 0.012));
    add(roots.poles, std::polar(0.97, 0.2));
    add(roots.poles, std::polar(0.8, 1.1));
    add(roots.zeros, std::polar(0.99, 0.03));
    add(roots.zeros, std::polar(0.95, 0.4));
    add(roots.zeros, std::polar(with_zero_outside ? 1.3 : 0.75, 2.0));
    roots.gain = 0.5;
    return roots;
}

TEST(VectorFit, FindsTheFilterThatAResponseIsOf) {
    const Roots roots = some_roots(true);
    const ResponseAim aim = aim_of_filter(filter_of_roots(roots), true);
    const RootFactors found = vector_fit(aim, rate, 6, Watch());
    const JointRoots task(aim, rate, 1000);
    EXPECT_LT(std::sqrt(task.cost(found)), 1e-6);
}

TEST(JointRoots, ErrorsHaveTheSlopesOfTheirDifferences) {
    ResponseAim aim = aim_of_filter(filter_of_roots(some_roots(true)), true);
    const JointRoots task(aim, rate, 100);
    RootFactors factors = factors_of(some_roots(false));
    factors.gain_db += 2;
    const std::size_t rows = task.error_count(), numbers = JointRoots::number_count(factors, 0);
    std::vector<double> slopes(rows * numbers);
    task.error_slopes(factors, 0, slopes);
    constexpr double step = 1e-6;
    std::size_t number = 0;
    const auto expect_slope = [&](auto turn) {
        RootFactors more = factors, less = factors;
        turn(more, step);
        turn(less, -step);
        std::vector<double> above(rows), below(rows);
        task.errors(more, above);
        task.errors(less, below);
        for (std::size_t row = 0; row < rows; row += 7) {
            const double want = (above[row] - below[row]) / (2 * step);
            EXPECT_NEAR(slopes[row * numbers + number], want, 1e-5 * (1 + std::abs(want)));
        }
        ++number;
    };
    expect_slope([](RootFactors& f, double by) { f.gain_db += by; });
    for (std::size_t i = 0; i < factors.all.size(); ++i) {
        expect_slope([i](RootFactors& f, double by) { f.all[i].log_a += by; });
        expect_slope([i](RootFactors& f, double by) { f.all[i].turn += by; });
    }
}

TEST(FindRoots, TakesBackAFilterByItsLevelAlone) {
    const ResponseAim aim = aim_of_filter(filter_of_roots(some_roots(true)), false);
    const RootFactors found = find_roots(aim, rate, {6, 6, 1000, false}, Watch());
    EXPECT_LT(JointRoots(aim, rate, 1000).worst_db(found), 0.01);
    for (const auto& zero : roots_of(found).zeros) {
        EXPECT_LE(std::abs(zero), 1) << "of minimum phase";
    }
}

TEST(FindRoots, KeepsPolesInsideAndBelowTheGreatestQ) {
    const ResponseAim aim = bumpy_aim(4, 24);
    constexpr double most_q = 4;
    const RootFactors found = find_roots(aim, rate, {20, 20, most_q, false}, Watch());
    for (const RootFactor& factor : found.all) {
        if (factor.is_pole && factor.is_pair) {
            EXPECT_GE(damping_of(factor), 1 / most_q - 1e-12);
        }
    }
    EXPECT_EQ(unstable_poles(roots_of(found)), 0);
}

TEST(FindRoots, HasAsManyZerosAsAreWanted) {
    const ResponseAim aim = bumpy_aim(5);
    for (const auto& [poles, zeros] : {std::pair(8, 3), {7, 7}, {6, 8}, {5, 0}, {1, 1}}) {
        const Roots roots = roots_of(find_roots(aim, rate, {poles, zeros, 60, false}, Watch()));
        EXPECT_EQ(roots.poles.size(), static_cast<std::size_t>(poles));
        EXPECT_EQ(roots.zeros.size(), static_cast<std::size_t>(zeros));
    }
}

TEST(FindRoots, MoreOrdersLeaveLess) {
    const ResponseAim aim = bumpy_aim(6);
    const JointRoots task(aim, rate, 60);
    double last = infinity;
    for (const int order : {4, 8, 16, 24}) {
        const double now = task.cost(find_roots(aim, rate, {order, order, 60, false}, Watch()));
        EXPECT_LT(now, last);
        last = now;
    }
    EXPECT_LT(std::sqrt(last), 0.05);
}

TEST(FindRoots, MakesTheGreatestErrorSmallerWhereAsked) {
    const ResponseAim aim = bumpy_aim(7);
    const JointRoots task(aim, rate, 60);
    const RootFactors squares = find_roots(aim, rate, {8, 8, 60, false}, Watch());
    const RootFactors greatest = find_roots(aim, rate, {8, 8, 60, true}, Watch());
    EXPECT_LT(task.worst_db(greatest), 0.9 * task.worst_db(squares));
    EXPECT_GE(task.cost(greatest), task.cost(squares));
}

TEST(FindRoots, IsAsGoodAsRandomStarts) {
    Seeded random(9);
    for (const double seed : {11, 12, 13}) {
        const ResponseAim aim = bumpy_aim(seed);
        const JointRoots task(aim, rate, 60);
        const double ours = task.cost(find_roots(aim, rate, {8, 8, 60, false}, Watch()));
        for (int start = 0; start < 8; ++start) {
            RootFactors theirs;
            for (int i = 0; i < 4; ++i) {
                const auto place = [&] {
                    return log_image(20 * std::pow(1000.0, random.uniform()), rate);
                };
                theirs.all.push_back({true, true, place(), random.between(-3, 1)});
                theirs.all.push_back(
                    {false, true, place(), std::asinh(std::exp(random.between(-3, 1)) / 2)});
            }
            theirs.gain_db = task.best_gain_db(theirs);
            task.refine(theirs, {}, Watch());
            EXPECT_LT(ours, 1.1 * task.cost(theirs));
        }
    }
}

TEST(FindRoots, StopsWhenTold) {
    const Watch watch;
    int heard = 0;
    const RootFactors found =
        find_roots(bumpy_aim(8, 30), rate, {30, 30, 60, false}, watch, [&](const RootFactors&) {
            ++heard;
            watch.stop();
        });
    EXPECT_EQ(heard, 1);
    EXPECT_EQ(roots_of(found).poles.size(), 30U);
}

} // namespace
} // namespace syntonon
