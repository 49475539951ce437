// What the verdict finds against looking at very many frequencies: it must never find less.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/goal/verdict.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

constexpr double low_hz = 60, high_hz = 15000;

std::vector<Filter> random_chain(unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> octave(0, 8.5), gain(-12, 12), width(-1, 5);
    std::vector<Filter> chain;
    for (int i = 0; i < 6; ++i) {
        const auto shape = all_parametric_shapes.at(random() % all_parametric_shapes.size());
        chain.push_back(parametric_filter(parametric(shape, 40 * std::exp2(octave(random)),
                                                     gain(random), 0.7 * std::exp2(width(random))),
                                          rate)
                            .value());
    }
    return chain;
}

struct Extremes {
    double lowest = INFINITY, highest = -INFINITY;
    void take(double value) {
        if (std::isfinite(value)) {
            lowest = std::min(lowest, value);
            highest = std::max(highest, value);
        }
    }
};

struct Looked {
    Extremes level_db, delay, phase_off;
};

// A hundred thousand frequencies, and the neighbourhood of every root.
Looked look(const std::vector<Filter>& chain) {
    std::vector<double> hz;
    constexpr int count = 100'000;
    for (int i = 0; i <= count; ++i) {
        hz.push_back(low_hz * std::pow(high_hz / low_hz, i / double(count)));
    }
    for (const Filter& filter : chain) {
        for (const auto* roots : {&filter.roots()->zeros, &filter.roots()->poles}) {
            for (const auto& root : *roots) {
                const double at = hz_from_rad_per_sample(std::abs(std::arg(root)), rate);
                for (int i = -200; i <= 200; ++i) {
                    hz.push_back(std::clamp(at * (1 + i * 1e-6), low_hz, high_hz));
                }
            }
        }
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), rate).value();
    Response sum(grid.size());
    for (const Filter& filter : chain) {
        sum.follow_with(filter.response(grid));
    }
    Looked found;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        found.level_db.take(sum.magnitude_db[i]);
        found.delay.take(sum.group_delay_samples[i]);
        found.phase_off.take(std::abs(wrapped_deg(deg_from_rad(sum.phase_rad[i]))));
    }
    return found;
}

class BruteForce : public testing::TestWithParam<unsigned> {
protected:
    double value_of(const RequirementSpec& spec) {
        Goal goal;
        goal.requirements = {{spec}};
        const Finding finding = judge(&goal, Prediction(series(chain), nullptr, rate)).at(0);
        EXPECT_NE(finding.outcome, Outcome::undecided) << finding.reason;
        return finding.value.value_or(NAN);
    }
    std::vector<Filter> chain = random_chain(GetParam());
    Looked looked = look(chain);
};

TEST_P(BruteForce, NeverSeesMoreThanTheVerdict) {
    // Level: the worst of a corridor, on each side.
    for (const bool upper : {true, false}) {
        Goal goal;
        goal.target.points = {{1000, 0, {}}};
        goal.corridor = {{low_hz, high_hz, upper ? std::optional(0.0) : std::nullopt,
                          upper ? std::nullopt : std::optional(0.0)}};
        const Finding finding = judge(&goal, Prediction(series(chain), nullptr, rate)).at(0);
        if (!finding.value) {
            continue; // a zero on the circle: endlessly far below
        }
        const double seen = upper ? looked.level_db.highest : looked.level_db.lowest;
        EXPECT_GE((upper ? 1 : -1) * (*finding.value - seen), -1e-9) << upper;
        EXPECT_NEAR(*finding.value, seen, 1e-3 * (1 + std::abs(seen))) << upper;
    }
    const double attenuation = value_of(AttenuationRequirement{low_hz, high_hz, 0});
    EXPECT_LE(attenuation, -looked.level_db.highest + 1e-9);
    // Delay: its variation, and the farthest from a number.
    const Duration none{0, TimeUnit::samples};
    const double variation = value_of(DelayVariationRequirement{low_hz, high_hz, none});
    const double seen = looked.delay.highest - looked.delay.lowest;
    EXPECT_GE(variation, seen * (1 - 1e-9));
    EXPECT_NEAR(variation, seen, 1e-3 * seen);
    const double farthest = value_of(GroupDelayRequirement{low_hz, high_hz, none, none});
    EXPECT_GE(std::abs(farthest),
              std::max(std::abs(looked.delay.highest), std::abs(looked.delay.lowest)) * (1 - 1e-9));
    const double phase = value_of(PhaseRequirement{low_hz, high_hz, 0, 0});
    EXPECT_GE(std::abs(phase), looked.phase_off.highest - 1e-6);
}

INSTANTIATE_TEST_SUITE_P(Chains, BruteForce, testing::Range(1U, 25U));

} // namespace
} // namespace syntonon
