// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/sweep.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double fade_in_oct = 1.0 / 6, fade_out_oct = 1.0 / 24;

// In seconds: what time does to the frequency.
double rise_time_s(const SweepPlan& plan) {
    const double wished = plan.length_s / std::log(plan.to_hz / plan.from_hz);
    return std::max(1.0, std::round(wished * plan.from_hz)) / plan.from_hz;
}

// As the rounded rise time makes it.
double length_s_of(const SweepPlan& plan) {
    return rise_time_s(plan) * std::log(plan.to_hz / plan.from_hz);
}

std::size_t samples_in(double seconds, double rate_hz) {
    return static_cast<std::size_t>(std::llround(seconds * rate_hz));
}

// From 0 to 1 as half a period of a cosine.
double faded(double share) {
    return share >= 1 ? 1 : 0.5 - 0.5 * std::cos(pi * std::max(share, 0.0));
}

} // namespace

Expected<void> check(const SweepPlan& plan) {
    constexpr double least_s = 0.1, most_s = 120, most_silence_s = 60;
    if (!(plan.sample_rate_hz > 0)) {
        return refuse("sample_rate_hz", "is not positive", "give one above 0");
    }
    if (!(plan.from_hz > 0) || !(plan.to_hz > plan.from_hz)) {
        return refuse("to_hz",
                      fmt::format("{} Hz does not lie above {} Hz", plan.to_hz, plan.from_hz),
                      "let the sweep rise");
    }
    if (plan.to_hz > plan.sample_rate_hz / 2) {
        return refuse("to_hz", "is more than half the sample rate",
                      fmt::format("stay at or below {} Hz", plan.sample_rate_hz / 2));
    }
    if (!(plan.length_s >= least_s && plan.length_s <= most_s)) {
        return refuse("length_s", fmt::format("{} is out of range", plan.length_s),
                      fmt::format("give {} to {} s", least_s, most_s));
    }
    for (const auto& [key, silence_s] :
         {std::pair("lead_in_s", plan.lead_in_s), std::pair("lead_out_s", plan.lead_out_s)}) {
        if (!(silence_s >= 0 && silence_s <= most_silence_s)) {
            return refuse(key, fmt::format("{} is out of range", silence_s),
                          fmt::format("give 0 to {} s", most_silence_s));
        }
    }
    if (plan.repeats < 1 || plan.repeats > 64) {
        return refuse("repeats", fmt::format("{} is out of range", plan.repeats), "give 1 to 64");
    }
    if (!(plan.peak_db <= 0)) {
        return refuse("peak_db", "lies above full scale", "give 0 or less");
    }
    return {};
}

double octave_time_s(const SweepPlan& plan) {
    return rise_time_s(plan) * std::log(2.0);
}

double harmonic_lead_s(const SweepPlan& plan, int order) {
    return rise_time_s(plan) * std::log(static_cast<double>(order));
}

std::vector<double> sweep_samples(const SweepPlan& plan) {
    const double rise_s = rise_time_s(plan), octave_s = octave_time_s(plan);
    const double length_s = length_s_of(plan);
    const double peak = ratio_from_db(plan.peak_db);
    std::vector<double> samples(sweep_length_samples(plan));
    for (std::size_t n = 0; n < samples.size(); ++n) {
        const double t = static_cast<double>(n) / plan.sample_rate_hz;
        // Turns; whole ones are left out so that none of the digits are lost.
        const double turns = plan.from_hz * rise_s * std::expm1(t / rise_s);
        const double gain =
            faded(t / (fade_in_oct * octave_s)) * faded((length_s - t) / (fade_out_oct * octave_s));
        samples[n] = peak * gain * std::sin(2 * pi * (turns - std::floor(turns)));
    }
    return samples;
}

double faded_out_at(const SweepPlan& plan, double hz) {
    return faded(octaves_between(hz, plan.to_hz) / fade_out_oct);
}

std::size_t sweep_length_samples(const SweepPlan& plan) {
    return samples_in(length_s_of(plan), plan.sample_rate_hz);
}

std::size_t lead_in_samples(const SweepPlan& plan) {
    return samples_in(plan.lead_in_s, plan.sample_rate_hz);
}

std::size_t period_samples(const SweepPlan& plan) {
    return sweep_length_samples(plan) + samples_in(plan.lead_out_s, plan.sample_rate_hz);
}

std::vector<double> played_samples(const SweepPlan& plan) {
    const std::vector<double> sweep = sweep_samples(plan);
    const std::size_t before = lead_in_samples(plan), period = period_samples(plan);
    std::vector<double> all(before + period * static_cast<std::size_t>(plan.repeats));
    for (std::size_t at = before; at < all.size(); at += period) {
        std::ranges::copy(sweep, all.begin() + static_cast<std::ptrdiff_t>(at));
    }
    return all;
}

// The power of a sweep at f is that of its stay there: |X(f)|^2 = peak^2 t1 fs^2 / (4 f) in
// samples, so that the reversed sweep times 4 f / (peak^2 t1 fs^2) makes the product 1 at every
// frequency.
std::vector<double> inverse_filter(const SweepPlan& plan) {
    std::vector<double> filter = sweep_samples(plan);
    const double rise_s = rise_time_s(plan), peak = ratio_from_db(plan.peak_db);
    for (std::size_t n = 0; n < filter.size(); ++n) {
        const double t = static_cast<double>(n) / plan.sample_rate_hz;
        const double hz = plan.from_hz * std::exp(t / rise_s);
        filter[n] *= 4 * hz / (peak * peak * rise_s * plan.sample_rate_hz * plan.sample_rate_hz);
    }
    std::ranges::reverse(filter);
    return filter;
}

} // namespace syntonon
