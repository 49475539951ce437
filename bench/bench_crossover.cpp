// How flat the sums of crossovers and of pairs of all-passes are, and what looking at one costs.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/spent.h"
#include "core/base/units.h"
#include "core/design/all_pass_pair.h"
#include "core/design/classical.h"
#include "core/design/crossover.h"
#include "core/design/roots.h"
#include "core/study/crossover_sum.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <string_view>

using namespace syntonon;

namespace {

std::vector<Filter> ways(CrossoverSpec spec, const Axis& axis) {
    std::vector<Filter> filters;
    for (spec.way = 1; spec.way <= ways_of(spec); ++spec.way) {
        filters.push_back(design(spec, brief_at(axis), Watch())->filter);
    }
    return filters;
}

std::vector<WayHeard> heard(const std::vector<Filter>& filters) {
    std::vector<WayHeard> all;
    for (const Filter& filter : filters) {
        all.push_back({filter, nullptr, 0.1 * static_cast<double>(all.size())});
    }
    return all;
}

FrequencyGrid places(const Axis& axis) {
    return *FrequencyGrid::logarithmic(1, axis.end_hz(), 4000, axis);
}

double off_flat_db(const std::vector<Filter>& filters, const Axis& axis) {
    double most = 0;
    for (const double db : SummedWays(heard(filters), places(axis)).sum(0).level_db) {
        most = std::max(most, std::abs(db));
    }
    return most;
}

// Two, three and four ways between these: the worst.
double worst_of(CrossoverFamily family, int order, double lowest_hz, double rate_hz) {
    const std::array<std::vector<double>, 5> frequencies = {
        {{lowest_hz}, {2000}, {10'000}, {lowest_hz, 3000}, {lowest_hz, 600, 5000}}};
    double worst = 0;
    for (const auto& hz : frequencies) {
        CrossoverSpec spec;
        spec.family = family;
        spec.order = order;
        spec.frequencies_hz = hz;
        worst = std::max(worst, off_flat_db(ways(spec, {rate_hz}), {rate_hz}));
    }
    return worst;
}

void print_flatness(std::string_view name, CrossoverFamily family, int order) {
    fmt::print(
        "{} {}: off flat by {:.0e} dB (from 200 Hz, 48 kHz), {:.0e} (80 Hz), {:.0e} (20 Hz), "
        "{:.0e} (20 Hz, 192 kHz)\n",
        name, order, worst_of(family, order, 200, 48'000), worst_of(family, order, 80, 48'000),
        worst_of(family, order, 20, 48'000), worst_of(family, order, 20, 192'000));
}

double worst_of_pairs(ClassicalFamily family, double edge_hz) {
    double worst = 0;
    for (const int order : {1, 3, 5, 7, 9}) {
        ClassicalSpec spec;
        spec.family = family;
        spec.order = order;
        spec.edges_hz[0] = edge_hz;
        const Axis axis{48'000};
        const auto pair = all_pass_pair(design(spec, brief_at(axis), Watch())->filter);
        if (!pair) {
            return infinity;
        }
        const auto grid = places(axis);
        const auto a = filter_of_roots(pair->branches[0]).values(grid),
                   b = filter_of_roots(pair->branches[1]).values(grid);
        for (std::size_t i = 0; i < grid.size(); ++i) {
            const auto low = pair->factors[0] * a[i].h + pair->factors[1] * b[i].h,
                       high = pair->factors[0] * a[i].h - pair->factors[1] * b[i].h;
            worst = std::max(worst, std::abs(db_from_power(std::norm(low) + std::norm(high))));
            worst = std::max(worst, std::abs(db_from_ratio(std::abs(a[i].h))));
        }
    }
    return worst;
}

} // namespace

int main() {
    for (const int order : {2, 4, 6, 8}) {
        print_flatness("Linkwitz-Riley", CrossoverFamily::linkwitz_riley, order);
    }
    for (const int order : {1, 3, 5, 7}) {
        print_flatness("Butterworth", CrossoverFamily::butterworth, order);
    }
    print_flatness("linear phase", CrossoverFamily::linear_phase, 4);
    print_flatness("subtractive", CrossoverFamily::subtractive, 4);
    for (const auto family : {ClassicalFamily::butterworth, ClassicalFamily::chebyshev,
                              ClassicalFamily::inverse_chebyshev, ClassicalFamily::elliptic}) {
        fmt::print("pairs of all-passes, {}, orders 1 to 9: flat and complementary to {:.0e} dB "
                   "(10 kHz), {:.0e} (1 kHz), {:.0e} (50 Hz)\n",
                   title_of(family), worst_of_pairs(family, 10'000), worst_of_pairs(family, 1000),
                   worst_of_pairs(family, 50));
    }
    CrossoverSpec spec;
    spec.frequencies_hz = {300, 3000};
    const Axis axis{48'000};
    constexpr int times = 50;
    const Spent spent = spent_on([&] {
        for (int i = 0; i < times; ++i) {
            const auto grid = *FrequencyGrid::logarithmic(20, 20'000, 300, axis);
            const SummedWays summed(heard(ways(spec, axis)), grid);
            static_cast<void>(summed.sum(0));
            static_cast<void>(summed.sum(10));
            std::vector<double> angles;
            for (int angle = -60; angle <= 60; angle += 2) {
                angles.push_back(angle);
            }
            static_cast<void>(lobes_of(summed, angles));
        }
    });
    fmt::print("three ways designed, summed on and off axis and at 61 angles: {:.1f} ms\n",
               1e3 * spent.cpu_s / times);
    return 0;
}
