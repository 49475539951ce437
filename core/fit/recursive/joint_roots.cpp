// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/joint_roots.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace syntonon {
namespace {

constexpr double db_of_a_rad = 20 / std::numbers::ln10;

} // namespace

JointRoots::JointRoots(const ResponseAim& aim, double sample_rate_hz, double most_q)
    : aim_(aim), grid_(*FrequencyGrid::from_frequencies(aim.hz, {sample_rate_hz})),
      greatest_q_(most_q) {
    const double total = std::accumulate(aim.weight.begin(), aim.weight.end(), 0.0);
    for (const double weight : aim.weight) {
        scale_.push_back(std::sqrt(weight / total));
    }
}

std::vector<double> JointRoots::level_db(const RootFactors& factors) const {
    std::vector<double> level(grid_.size(), factors.gain_db);
    add_level(factors.all, grid_, level);
    return level;
}

std::vector<double> JointRoots::phase_rad(const RootFactors& factors) const {
    std::vector<double> phase(grid_.size(), factors.is_inverted ? pi : 0.0);
    for (const RootFactor& factor : factors.all) {
        add_phase(factor, grid_, phase, {}, {});
    }
    return phase;
}

void JointRoots::errors(const RootFactors& factors, std::span<double> errors) const {
    const std::size_t places = aim_.size();
    const std::vector<double> level = level_db(factors);
    for (std::size_t i = 0; i < places; ++i) {
        errors[i] = scale_[i] * (level[i] - aim_.level_db[i]);
    }
    if (!counts_phase()) {
        return;
    }
    const std::vector<double> phase = phase_rad(factors);
    for (std::size_t i = 0; i < places; ++i) {
        errors[places + i] =
            scale_[i] * db_of_a_rad * 2 * std::sin((phase[i] - aim_.phase_rad[i]) / 2);
    }
}

double JointRoots::cost(const RootFactors& factors) const {
    std::vector<double> all(error_count());
    errors(factors, all);
    return std::inner_product(all.begin(), all.end(), all.begin(), 0.0);
}

double JointRoots::worst_db(const RootFactors& factors) const {
    std::vector<double> all(error_count());
    errors(factors, all);
    const double greatest = *std::ranges::max_element(aim_.weight);
    const double total = std::accumulate(aim_.weight.begin(), aim_.weight.end(), 0.0);
    double worst = 0;
    for (const double error : all) {
        worst = std::max(worst, std::abs(error));
    }
    return worst * std::sqrt(total / greatest);
}

double JointRoots::best_gain_db(const RootFactors& factors) const {
    const std::vector<double> level = level_db(factors);
    double sum = 0;
    for (std::size_t i = 0; i < level.size(); ++i) {
        sum += scale_[i] * scale_[i] * (aim_.level_db[i] - level[i]);
    }
    return factors.gain_db + sum;
}

std::size_t JointRoots::number_count(const RootFactors& factors, std::size_t first) {
    std::size_t count = 1;
    for (std::size_t f = first; f < factors.all.size(); ++f) {
        count += factors.all[f].is_pair ? 2 : 1;
    }
    return count;
}

void JointRoots::error_slopes(const RootFactors& factors, std::size_t first,
                              std::span<double> slopes) const {
    const std::size_t places = aim_.size(), numbers = number_count(factors, first);
    std::vector<double> by_a(places), by_turn(places), chord;
    const auto put = [&](std::size_t row, std::size_t number, const std::vector<double>& by) {
        for (std::size_t i = 0; i < places; ++i) {
            slopes[(row + i) * numbers + number] = scale_[i] * by[i];
        }
    };
    const auto put_both = [&](const RootFactor& factor, std::size_t row, std::size_t number) {
        put(row, number, by_a);
        if (factor.is_pair) {
            put(row, number + 1, by_turn);
        }
    };
    if (counts_phase()) {
        chord = phase_rad(factors);
        for (std::size_t i = 0; i < places; ++i) {
            chord[i] = db_of_a_rad * std::cos((chord[i] - aim_.phase_rad[i]) / 2);
        }
        put(places, 0, std::vector<double>(places, 0.0));
    }
    put(0, 0, std::vector<double>(places, 1.0));
    std::size_t number = 1;
    for (std::size_t f = first; f < factors.all.size(); ++f) {
        const RootFactor& factor = factors.all[f];
        add_level(factor, grid_, {}, by_a, by_turn);
        put_both(factor, 0, number);
        if (counts_phase()) {
            add_phase(factor, grid_, {}, by_a, by_turn);
            for (std::size_t i = 0; i < places; ++i) {
                by_a[i] *= chord[i];
                by_turn[i] *= chord[i];
            }
            put_both(factor, places, number);
        }
        number += factor.is_pair ? 2 : 1;
    }
}

NumberBounds JointRoots::bounds_of_log_a() const {
    constexpr double beyond = 8; // times lower or higher than the range
    return {log_image(aim_.hz.front() / beyond, grid_.sample_rate_hz()),
            log_image(aim_.hz.back(), grid_.sample_rate_hz()) + std::log(beyond)};
}

NumberBounds JointRoots::bounds_of_turn(const RootFactor& factor) const {
    constexpr double smallest_q = 0.02; // two real roots, far apart
    if (factor.is_pole) {
        return {-std::log(greatest_q_), -std::log(smallest_q)};
    }
    return {-std::asinh(0.5 / smallest_q), std::asinh(0.5 / smallest_q)};
}

namespace {

double within(double value, const NumberBounds& bounds) {
    return std::clamp(value, bounds.least, bounds.greatest);
}

// Calls with each number that is turned: it, and whether it is a turn.
template <class Factors, class Call>
void each_number(Factors& factors, std::size_t first, Call call) {
    for (std::size_t f = first; f < factors.all.size(); ++f) {
        auto& factor = factors.all[f];
        call(factor, factor.log_a, false);
        if (factor.is_pair) {
            call(factor, factor.turn, true);
        }
    }
}

} // namespace

void JointRoots::keep_within(RootFactors& factors) const {
    each_number(factors, 0, [&](const RootFactor& factor, double& number, bool is_turn) {
        number = within(number, is_turn ? bounds_of_turn(factor) : bounds_of_log_a());
    });
}

void JointRoots::refine(RootFactors& factors, const Effort& effort, const Watch& watch,
                        double power, std::size_t first) const {
    keep_within(factors);
    LeastSquares task;
    std::vector<double> numbers = {factors.gain_db};
    task.bounds.push_back({});
    each_number(factors, first, [&](const RootFactor& factor, double number, bool is_turn) {
        numbers.push_back(number);
        task.bounds.push_back(is_turn ? bounds_of_turn(factor) : bounds_of_log_a());
    });
    const auto put = [&](std::span<const double> from, RootFactors& into) {
        std::size_t k = 0;
        into.gain_db = from[k++];
        each_number(into, first,
                    [&](const RootFactor&, double& number, bool) { number = from[k++]; });
    };
    std::vector<double> now(error_count());
    errors(factors, now);
    double unit = 0;
    for (const double error : now) {
        unit = std::max(unit, std::abs(error));
    }
    task.error_count = error_count();
    RootFactors turned = factors;
    task.errors = [&](std::span<const double> at, std::span<double> out, std::span<double> slopes) {
        put(at, turned);
        errors(turned, out);
        if (!slopes.empty()) {
            error_slopes(turned, first, slopes);
        }
        raise_errors(power, unit, out, slopes);
    };
    solve(task, numbers, effort, watch);
    put(numbers, factors);
}

} // namespace syntonon
