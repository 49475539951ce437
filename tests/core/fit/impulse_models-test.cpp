// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/impulse_models.h"

#include "core/design/roots.h"
#include "core/filter/form.h"
#include "core/math/seeded.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::vector<double> impulse_of_filter(const Filter& filter, std::size_t count) {
    return filter.impulse_response(count);
}

Filter three_sections() {
    return series(std::vector{section(ParametricShape::peak, 2000, 6, 2),
                              section(ParametricShape::low_pass, 6000, 0, 0.9),
                              section(ParametricShape::notch, 9000, 0, 1.5)});
}

double greatest_difference(const std::vector<double>& a, const std::vector<double>& b) {
    double most = 0;
    for (std::size_t n = 0; n < a.size(); ++n) {
        most = std::max(most, std::abs(a[n] - b[n]));
    }
    return most;
}

TEST(Prony, TakesBackARecursiveFilter) {
    const auto impulse = impulse_of_filter(three_sections(), 400);
    const RationalModel model = prony(impulse, 6, 6);
    EXPECT_LT(greatest_difference(impulse_of(model, 400), impulse), 1e-9);
}

// An exponential is 1 / (1 - p / z).
TEST(Prony, IsTheClosedFormOfOnePole) {
    std::vector<double> impulse;
    for (int n = 0; n < 50; ++n) {
        impulse.push_back(3 * std::pow(-0.8, n));
    }
    const RationalModel model = prony(impulse, 0, 1);
    EXPECT_NEAR(model.a[1], 0.8, 1e-12);
    EXPECT_NEAR(model.b[0], 3, 1e-12);
}

TEST(SteiglitzMcbride, IsNearerThanPronyWhereNothingIsExact) {
    Seeded random(2);
    auto impulse = impulse_of_filter(three_sections(), 300);
    for (double& sample : impulse) {
        sample += 0.003 * random.normal();
    }
    const auto error = [&](const RationalModel& model) {
        const auto is = impulse_of(model, impulse.size());
        double sum = 0;
        for (std::size_t n = 0; n < is.size(); ++n) {
            sum += (is[n] - impulse[n]) * (is[n] - impulse[n]);
        }
        return sum;
    };
    const RationalModel model = steiglitz_mcbride(impulse, 6, 6, Watch());
    EXPECT_LT(error(model), 0.7 * error(prony(impulse, 6, 6)));
    EXPECT_LT(error(model), 1.1 * 300 * 0.003 * 0.003) << "no more than the noise";
    const Roots roots = *roots_of(model);
    for (const auto& pole : roots.poles) {
        EXPECT_LT(std::abs(pole), 1);
    }
}

TEST(SteiglitzMcbride, HasTheRootsOfItsFilter) {
    const auto impulse = impulse_of_filter(three_sections(), 300);
    const Roots roots = *roots_of(steiglitz_mcbride(impulse, 6, 6, Watch()));
    const auto again = impulse_of_filter(filter_of_roots(roots), 300);
    EXPECT_LT(greatest_difference(again, impulse), 1e-7);
}

// Taps that ring for long, and a delay before them.
std::vector<double> long_taps(std::size_t count) {
    auto taps = impulse_of_filter(series(std::vector{section(ParametricShape::peak, 2500, 9, 1.5),
                                                     section(ParametricShape::peak, 1500, -6, 1),
                                                     section(ParametricShape::high_shelf, 5000, 4),
                                                     section(ParametricShape::peak, 9000, 5, 3)}),
                                  count);
    taps.insert(taps.begin(), 5, 0.0);
    return taps;
}

TEST(BalancedTruncation, StaysWithinItsBoundAndIsStable) {
    const auto taps = long_taps(250);
    const auto grid = *FrequencyGrid::linear(0, rate / 2, 400, rate);
    const Filter fir = Taps(std::make_shared<const std::vector<double>>(taps));
    double last = infinity;
    for (const int order : {2, 4, 6, 8}) {
        const BalancedModel model = *balanced_truncation(taps, order);
        EXPECT_EQ(model.roots.delay_samples, 5);
        for (const auto& pole : model.roots.poles) {
            EXPECT_LT(std::abs(pole), 1);
        }
        const Filter cut = filter_of_roots(model.roots);
        double worst = 0;
        for (std::size_t i = 0; i < grid.size(); ++i) {
            const double hz = grid.frequency_hz()[i];
            const auto a = fir.response_at(hz, rate), b = cut.response_at(hz, rate);
            worst =
                std::max(worst, std::abs(std::polar(ratio_from_db(a.magnitude_db), a.phase_rad)
                                         - std::polar(ratio_from_db(b.magnitude_db), b.phase_rad)));
        }
        EXPECT_LE(worst, model.bound + 1e-9) << order;
        EXPECT_GE(worst, model.singular_values[static_cast<std::size_t>(order)] - 1e-9)
            << "no model of that order can be nearer";
        EXPECT_LT(model.bound, last);
        last = model.bound;
    }
    EXPECT_LT(last, 1e-3) << "eight states are what it was made of";
}

TEST(BalancedTruncation, RefusesWhatItCannotDo) {
    EXPECT_EQ(balanced_truncation(std::vector<double>(3000, 1.0), 4).error().place, "length");
    EXPECT_EQ(balanced_truncation(std::vector<double>(30, 0.0), 4).error().place, "length");
    EXPECT_EQ(balanced_truncation(std::vector<double>(4, 1.0), 4).error().place, "order");
}

} // namespace
} // namespace syntonon
