// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/joint_delays.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace syntonon {

void add_delay(const RootFactor& pole, const FrequencyGrid& grid, std::span<double> delay_samples,
               std::span<double> by_log_a, std::span<double> by_turn) {
    const double a = std::exp(pole.log_a), damping = damping_of(pole);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double p = a * a * grid.half_cosine_squared()[i], q = grid.half_sine_squared()[i];
        const double y = a * damping * grid.sine()[i] / 2;
        const double below = pole.is_pair ? (p - q) * (p - q) + y * y : p + q;
        const double delay = pole.is_pair ? a * damping * (p + q) / below : a / below;
        delay_samples[i] += delay;
        if (by_log_a.empty()) {
            continue;
        }
        by_log_a[i] = pole.is_pair
                          ? delay * (1 + 2 * p / (p + q) - (4 * p * (p - q) + 2 * y * y) / below)
                          : delay * (1 - 2 * p / below);
        by_turn[i] = pole.is_pair ? delay * (1 - 2 * y * y / below) : 0;
    }
}

void add_lag(const RootFactor& pole, const FrequencyGrid& grid, std::span<double> lag_rad,
             std::span<double> by_log_a, std::span<double> by_turn) {
    const double a = std::exp(pole.log_a), damping = damping_of(pole);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double p = a * a * grid.half_cosine_squared()[i], q = grid.half_sine_squared()[i];
        const double y = a * damping * grid.sine()[i] / 2;
        const double below = pole.is_pair ? (p - q) * (p - q) + y * y : p + q;
        lag_rad[i] +=
            2 * (pole.is_pair ? std::atan2(y, p - q) : std::atan2(std::sqrt(q), std::sqrt(p)));
        if (by_log_a.empty()) {
            continue;
        }
        by_log_a[i] = -2 * (pole.is_pair ? y * (p + q) : std::sqrt(p * q)) / below;
        by_turn[i] = pole.is_pair ? 2 * (p - q) * y / below : 0;
    }
}

JointDelays::JointDelays(const DelayAim& aim, double sample_rate_hz, double most_q)
    : aim_(aim), grid_(*FrequencyGrid::from_frequencies(aim.hz, {sample_rate_hz})),
      most_q_(most_q) {
    const double total = std::accumulate(aim.weight.begin(), aim.weight.end(), 0.0);
    for (const double weight : aim.weight) {
        scale_.push_back(std::sqrt(weight / total));
    }
}

std::vector<double> JointDelays::delay_samples(const AllPasses& found) const {
    std::vector<double> delay(grid_.size(), 0.0);
    for (const RootFactor& pole : found.poles) {
        add_delay(pole, grid_, delay, {}, {});
    }
    return delay;
}

void JointDelays::add(const RootFactor& pole, std::span<double> sum, std::span<double> by_log_a,
                      std::span<double> by_turn) const {
    (aim_.by_phase() ? add_lag : add_delay)(pole, grid_, sum, by_log_a, by_turn);
}

std::vector<double> JointDelays::sum_of(const AllPasses& found) const {
    std::vector<double> sum = aim_.by_phase() ? aim_.lag_rad : aim_.delay_samples;
    for (const RootFactor& pole : found.poles) {
        add(pole, sum, {}, {});
    }
    return sum;
}

// A common delay is taken off; one that follows adds to the lag.
double JointDelays::by_delay(std::size_t i) const {
    return aim_.by_phase() ? rad_per_sample_from_hz(aim_.hz[i], grid_.sample_rate_hz()) : -1;
}

void JointDelays::choose_delay(AllPasses& found) const {
    if (aim_.by_phase()) {
        choose_delay_by_phase(found);
        return;
    }
    found.delay_samples = 0;
    const std::vector<double> delay = sum_of(found);
    for (std::size_t i = 0; aim_.up_to_a_delay && i < delay.size(); ++i) {
        found.delay_samples += scale_[i] * scale_[i] * delay[i];
    }
}

// Half turns and delay go together: more of the one, more of the other. Of a few half turns above
// what no delay asks for, those with their best delay.
void JointDelays::choose_delay_by_phase(AllPasses& found) const {
    constexpr int tried = 6;
    const std::vector<double> lag = sum_of(found);
    double mean = 0, by_angle = 0, angles = 0, squares = 0;
    for (std::size_t i = 0; i < lag.size(); ++i) {
        const double share = scale_[i] * scale_[i], w = by_delay(i);
        mean += share * lag[i];
        by_angle += share * w * lag[i];
        angles += share * w;
        squares += share * w * w;
    }
    const int first = static_cast<int>(std::floor(mean / pi));
    AllPasses best = found;
    double least = infinity;
    for (int half_turns = first; half_turns < first + tried; ++half_turns) {
        best.half_turns = half_turns;
        best.delay_samples =
            aim_.up_to_a_delay ? std::max(0.0, (pi * half_turns * angles - by_angle) / squares) : 0;
        if (const double error = cost(best); error < least) {
            least = error;
            found = best;
        }
    }
}

void JointDelays::errors(const AllPasses& found, std::span<double> errors) const {
    const std::vector<double> sum = sum_of(found);
    for (std::size_t i = 0; i < sum.size(); ++i) {
        errors[i] = scale_[i]
                    * (sum[i] + by_delay(i) * found.delay_samples
                       - (aim_.by_phase() ? pi * found.half_turns : 0));
    }
}

std::size_t JointDelays::number_count(const AllPasses& found) {
    std::size_t count = 1;
    for (const RootFactor& pole : found.poles) {
        count += pole.is_pair ? 2 : 1;
    }
    return count;
}

void JointDelays::error_slopes(const AllPasses& found, std::span<double> slopes) const {
    const std::size_t places = aim_.size(), numbers = number_count(found);
    std::vector<double> sum(places), by_a(places), by_turn(places);
    for (std::size_t i = 0; i < places; ++i) {
        slopes[i * numbers] = scale_[i] * by_delay(i);
    }
    std::size_t number = 1;
    for (const RootFactor& pole : found.poles) {
        add(pole, sum, by_a, by_turn);
        for (std::size_t i = 0; i < places; ++i) {
            slopes[i * numbers + number] = scale_[i] * by_a[i];
            if (pole.is_pair) {
                slopes[i * numbers + number + 1] = scale_[i] * by_turn[i];
            }
        }
        number += pole.is_pair ? 2 : 1;
    }
}

double JointDelays::cost(const AllPasses& found) const {
    std::vector<double> all(aim_.size());
    errors(found, all);
    return std::inner_product(all.begin(), all.end(), all.begin(), 0.0);
}

double JointDelays::worst(const AllPasses& found) const {
    std::vector<double> all(aim_.size());
    errors(found, all);
    const double greatest = *std::ranges::max_element(scale_);
    double worst = 0;
    for (const double error : all) {
        worst = std::max(worst, std::abs(error) / greatest);
    }
    return worst;
}

void JointDelays::refine(AllPasses& found, const Effort& effort, const Watch& watch,
                         double power) const {
    constexpr double smallest_q = 0.05, beyond = 4; // times lower or higher than the range
    constexpr double highest = 0.49; // of the rate: there an all-pass leaves a phase as it is
    const double rate_hz = grid_.sample_rate_hz();
    const double above = log_image(aim_.hz.back(), rate_hz) + std::log(beyond);
    const NumberBounds place = {
        log_image(aim_.hz.front() / beyond, rate_hz),
        aim_.by_phase() ? std::max(above, log_image(highest * rate_hz, rate_hz)) : above};
    const NumberBounds turn = {-std::log(most_q_), -std::log(smallest_q)};
    LeastSquares task;
    std::vector<double> numbers = {found.delay_samples};
    const bool follows = aim_.by_phase();
    task.bounds.push_back(aim_.up_to_a_delay
                              ? NumberBounds{follows ? 0 : -infinity, infinity}
                              : NumberBounds{found.delay_samples, found.delay_samples});
    for (RootFactor& pole : found.poles) {
        numbers.push_back(pole.log_a = std::clamp(pole.log_a, place.least, place.greatest));
        task.bounds.push_back(place);
        if (pole.is_pair) {
            numbers.push_back(pole.turn = std::clamp(pole.turn, turn.least, turn.greatest));
            task.bounds.push_back(turn);
        }
    }
    const auto put = [](std::span<const double> from, AllPasses& into) {
        std::size_t k = 0;
        into.delay_samples = from[k++];
        for (RootFactor& pole : into.poles) {
            pole.log_a = from[k++];
            pole.turn = pole.is_pair ? from[k++] : pole.turn;
        }
    };
    task.error_count = aim_.size();
    AllPasses turned = found;
    const double unit = worst(found) * *std::ranges::max_element(scale_);
    task.errors = [&](std::span<const double> at, std::span<double> out, std::span<double> slopes) {
        put(at, turned);
        errors(turned, out);
        if (!slopes.empty()) {
            error_slopes(turned, slopes);
        }
        raise_errors(power, unit, out, slopes);
    };
    solve(task, numbers, effort, watch);
    put(numbers, found);
}

} // namespace syntonon
