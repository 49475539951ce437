// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/equal_steps.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// Between two pieces of different gains.
bool is_between(double w, const Amplitude& wanted) {
    for (std::size_t i = 0; i + 1 < wanted.size(); ++i) {
        const LinePiece &before = wanted[i].gain, &after = wanted[i + 1].gain;
        if (w > before.to && w < after.from) {
            return before.at_to != after.at_from;
        }
    }
    return false;
}

double gain_between(const std::vector<FirSample>& ascending, double hz) {
    const auto next = std::ranges::lower_bound(ascending, hz, {}, &FirSample::frequency_hz);
    if (next == ascending.begin() || next == ascending.end()) {
        return (next == ascending.end() ? ascending.back() : *next).gain.value_or(0);
    }
    const FirSample &low = *std::prev(next), &high = *next;
    const double part = (hz - low.frequency_hz) / (high.frequency_hz - low.frequency_hz);
    return std::lerp(low.gain.value_or(0), high.gain.value_or(0), part);
}

std::vector<double> equal_steps_hz(std::size_t length, double rate) {
    std::vector<double> hz;
    for (std::size_t k = 0; k < (length + 1) / 2; ++k) {
        hz.push_back(rate * static_cast<double>(k) / static_cast<double>(length));
    }
    return hz;
}

} // namespace

Expected<Amplitude> asked_at_steps(const SampledFir& method, const FirTask& task) {
    const Least least =
        method.between == SampledFir::Between::best ? Least::greatest_error : Least::squared_error;
    return weighted_amplitude_of(task.wish, task.brief, least);
}

double gain_at(const std::vector<LinePiece>& lines, double w) {
    const auto line = std::ranges::find_if(lines, [w](const LinePiece& l) { return w <= l.to; });
    return (line == lines.end() ? lines.back() : *line).at(w);
}

Expected<std::vector<FirSample>> samples_at_equal_steps(const SampledFir& method,
                                                        const FirTask& task) {
    const double delay = method.delay_samples.value_or(middle_of(task.length));
    const auto wanted = asked_at_steps(method, task);
    const auto within_reach = joined_wish(task, delay);
    if (!wanted || !within_reach) {
        return tl::unexpected(wanted ? within_reach.error() : wanted.error());
    }
    const auto lines = joined(*wanted);
    const double rate = task.brief.sample_rate_hz;
    std::vector<FirSample> samples;
    for (const double hz : equal_steps_hz(task.length, rate)) {
        const double w = rad_per_sample_from_hz(hz, rate);
        const bool is_left = method.between == SampledFir::Between::best && is_between(w, *wanted);
        samples.push_back({hz, is_left ? std::nullopt : std::optional(gain_at(lines, w)), {}});
    }
    return samples;
}

std::vector<FirSample> on_equal_steps(const std::vector<FirSample>& samples, std::size_t length,
                                      double sample_rate_hz) {
    std::vector<FirSample> ascending = samples;
    std::ranges::stable_sort(ascending, {}, &FirSample::frequency_hz);
    // Type II has none at half the rate.
    if (length % 2 == 0 && !ascending.empty()
        && ascending.back().frequency_hz == sample_rate_hz / 2) {
        ascending.pop_back();
    }
    const auto steps = equal_steps_hz(length, sample_rate_hz);
    if (ascending.empty()) {
        return samples;
    }
    std::vector<FirSample> moved;
    for (std::size_t k = 0; k < steps.size(); ++k) {
        if (ascending.size() == steps.size()) {
            moved.push_back(ascending[k]);
            moved.back().frequency_hz = steps[k];
        } else {
            moved.push_back({steps[k], gain_between(ascending, steps[k]), {}});
        }
    }
    return moved;
}

} // namespace syntonon
