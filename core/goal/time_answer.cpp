// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/time_answer.h"

#include "core/base/units.h"
#include "core/filter/analog_time.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace syntonon {
namespace {

constexpr double longest = 1 << 19;
constexpr double died_away_db = 140;

std::size_t main_peak(const std::vector<double>& impulse) {
    const auto smaller = [](double a, double b) { return std::abs(a) < std::abs(b); };
    return static_cast<std::size_t>(std::ranges::max_element(impulse, smaller) - impulse.begin());
}

std::vector<double> step_of(const std::vector<double>& impulse) {
    std::vector<double> step(impulse.size());
    double sum = 0;
    std::ranges::transform(impulse, step.begin(), [&](double h) { return sum += h; });
    return step;
}

double greatest_magnitude(const std::vector<double>& values) {
    double greatest = 0;
    for (const double v : values) {
        greatest = std::max(greatest, std::abs(v));
    }
    return greatest;
}

bool ends_at_zero(const std::vector<double>& step) {
    return std::abs(step.back()) <= 1e-6 * greatest_magnitude(step);
}

} // namespace

double decay_samples(double radius, double fall_db) {
    if (radius <= 0) {
        return 0;
    }
    return radius < 1 ? fall_db / -db_from_ratio(radius) : std::numeric_limits<double>::infinity();
}

namespace {

// Often enough for its quickest pole.
Expected<TimeAnswer> settled_analog_response(const Filter& chain, double length_s) {
    constexpr double steps_a_radian = 64, least_steps_a_radian = 8, least_length = 1024;
    double quickest_rad_per_s = 0;
    for (const auto& pole : chain.roots()->poles) {
        quickest_rad_per_s = std::max(quickest_rad_per_s, std::abs(pole));
    }
    if (quickest_rad_per_s == 0) { // nothing but a gain
        return TimeAnswer{{chain.at_once()}, 1};
    }
    const double rate = std::min(steps_a_radian * quickest_rad_per_s, longest / length_s);
    if (rate < least_steps_a_radian * quickest_rad_per_s) {
        return refuse("",
                      "the chain's quickest pole is so much quicker than its slowest that its "
                      "answer cannot be looked at step by step",
                      "judge a part of it");
    }
    const auto count = static_cast<std::size_t>(std::max(length_s * rate, least_length));
    auto found = analog_time_response(chain, 1 / rate, count);
    if (!found) {
        return tl::unexpected(found.error());
    }
    TimeAnswer answer{std::move(found->step), rate};
    for (std::size_t i = answer.impulse.size() - 1; i > 0; --i) {
        answer.impulse[i] -= answer.impulse[i - 1];
    }
    return answer;
}

} // namespace

Expected<TimeAnswer> settled_impulse_response(const Filter& chain, const Axis& axis) {
    const auto slowest = chain.slowest_pole_radius(axis.sample_rate_hz);
    if (!slowest) {
        return tl::unexpected(slowest.error());
    }
    if (!(*slowest < 1)) {
        return refuse("", "the chain is unstable, so its response never settles",
                      axis.is_analog() ? "move its poles left of the imaginary axis"
                                       : "move its poles inside the unit circle");
    }
    if (axis.is_analog()) {
        return settled_analog_response(chain,
                                       decay_samples(*slowest, died_away_db) / axis.sample_rate_hz);
    }
    const double length = decay_samples(*slowest, died_away_db) + chain.finite_samples() + 64;
    if (!(length <= longest)) {
        return refuse("",
                      fmt::format("the chain rings for more than {} samples, longer than is "
                                  "looked at",
                                  longest),
                      "lower its highest Q");
    }
    return TimeAnswer{chain.impulse_response(static_cast<std::size_t>(length)),
                      axis.sample_rate_hz};
}

double pre_ringing_db(const std::vector<double>& impulse) {
    const std::size_t peak = main_peak(impulse);
    double before = 0, all = 0;
    for (std::size_t i = 0; i < impulse.size(); ++i) {
        const double energy = impulse[i] * impulse[i];
        before += i < peak ? energy : 0;
        all += energy;
    }
    return before > 0 ? db_from_power(before / all) : -std::numeric_limits<double>::infinity();
}

double pre_ringing_samples(const std::vector<double>& impulse, double threshold_db) {
    const std::size_t peak = main_peak(impulse);
    const double threshold = std::abs(impulse[peak]) * ratio_from_db(threshold_db);
    const auto first =
        std::ranges::find_if(impulse, [&](double h) { return std::abs(h) >= threshold; });
    return static_cast<double>(peak) - static_cast<double>(first - impulse.begin());
}

double settling_samples(const std::vector<double>& impulse, double part) {
    const std::vector<double> step = step_of(impulse);
    const double final_value = step.back();
    const double band = part * (ends_at_zero(step) ? 1.0 : std::abs(final_value));
    std::size_t n = step.size();
    while (n > 0 && std::abs(step[n - 1] - final_value) <= band) {
        --n;
    }
    return static_cast<double>(n);
}

std::optional<double> overshoot(const std::vector<double>& impulse) {
    const std::vector<double> step = step_of(impulse);
    if (ends_at_zero(step)) {
        return std::nullopt;
    }
    double greatest = 1;
    for (const double y : step) {
        greatest = std::max(greatest, y / step.back());
    }
    return greatest - 1;
}

} // namespace syntonon
