// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/grid.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

tl::unexpected<Problem> bad_ends(double low_hz, double high_hz, std::size_t count) {
    return refuse("frequency range",
                  fmt::format("{} Hz to {} Hz in {} points is not a range", low_hz, high_hz, count),
                  "give a lower and a higher frequency and at least 2 points");
}

} // namespace

CirclePoint circle_point(double hz, const Axis& axis) {
    if (axis.is_analog()) {
        CirclePoint point;
        point.hz = hz;
        point.axis = axis;
        return point;
    }
    const double angle = axis.rad_per_sample(hz);
    const double half_sine = std::sin(angle / 2), half_cosine = std::cos(angle / 2);
    CirclePoint point{hz,
                      axis,
                      half_sine * half_sine,
                      half_cosine * half_cosine,
                      std::sin(angle),
                      std::cos(angle)};
    // At half the sample rate pi should be pi, not 1e-16 beside it.
    if (hz == axis.end_hz()) {
        point.half_cosine_squared = point.sine = 0;
    }
    return point;
}

FrequencyGrid::FrequencyGrid(std::vector<double> frequency_hz, const Axis& axis)
    : axis_(axis), frequency_hz_(std::move(frequency_hz)), half_sine_squared_(frequency_hz_.size()),
      half_cosine_squared_(frequency_hz_.size()), sine_(frequency_hz_.size()),
      cosine_(frequency_hz_.size()) {
    for (std::size_t i = 0; i < frequency_hz_.size(); ++i) {
        const CirclePoint point = circle_point(frequency_hz_[i], axis_);
        half_sine_squared_[i] = point.half_sine_squared;
        half_cosine_squared_[i] = point.half_cosine_squared;
        sine_[i] = point.sine;
        cosine_[i] = point.cosine;
    }
}

CirclePoint FrequencyGrid::point(std::size_t i) const {
    return {frequency_hz_[i],        axis_,    half_sine_squared_[i],
            half_cosine_squared_[i], sine_[i], cosine_[i]};
}

std::size_t FrequencyGrid::upper_half() const {
    return static_cast<std::size_t>(
        std::ranges::upper_bound(frequency_hz_, axis_.sample_rate_hz / 4) - frequency_hz_.begin());
}

Expected<FrequencyGrid> FrequencyGrid::from_frequencies(std::vector<double> frequency_hz,
                                                        const Axis& axis) {
    if (!(axis.sample_rate_hz > 0) || !std::isfinite(axis.sample_rate_hz)) {
        return refuse("sample_rate_hz",
                      fmt::format("{} Hz is not a sample rate", axis.sample_rate_hz),
                      "give a positive number");
    }
    for (const double f : frequency_hz) {
        if (!(f >= 0 && f <= axis.end_hz())) {
            return refuse(
                "frequency",
                axis.is_analog()
                    ? fmt::format("{} Hz is not between 0 and {} Hz", f, axis.end_hz())
                    : fmt::format("{} Hz is not between 0 and half the sample rate ({} Hz)", f,
                                  axis.end_hz()),
                "choose a frequency in that range");
        }
    }
    std::ranges::sort(frequency_hz);
    frequency_hz.erase(std::unique(frequency_hz.begin(), frequency_hz.end()), frequency_hz.end());
    return FrequencyGrid(std::move(frequency_hz), axis);
}

bool EvenSpacing::is_possible() const {
    return (is_logarithmic ? low_hz > 0 : low_hz >= 0) && high_hz > low_hz && count >= 2;
}

double EvenSpacing::at(std::size_t i) const {
    if (i + 1 == count) {
        return high_hz;
    }
    const double all = is_logarithmic ? std::log(high_hz / low_hz) : high_hz - low_hz;
    const double part = all / static_cast<double>(count - 1) * static_cast<double>(i);
    return is_logarithmic ? low_hz * std::exp(part) : low_hz + part;
}

Expected<FrequencyGrid> FrequencyGrid::evenly(const EvenSpacing& spacing, const Axis& axis) {
    if (!spacing.is_possible()) {
        return bad_ends(spacing.low_hz, spacing.high_hz, spacing.count);
    }
    std::vector<double> frequency_hz(spacing.count);
    for (std::size_t i = 0; i < spacing.count; ++i) {
        frequency_hz[i] = spacing.at(i);
    }
    return from_frequencies(std::move(frequency_hz), axis);
}

Expected<FrequencyGrid> FrequencyGrid::logarithmic(double low_hz, double high_hz, std::size_t count,
                                                   const Axis& axis) {
    return evenly({true, low_hz, high_hz, count}, axis);
}

Expected<FrequencyGrid> FrequencyGrid::linear(double low_hz, double high_hz, std::size_t count,
                                              const Axis& axis) {
    return evenly({false, low_hz, high_hz, count}, axis);
}

} // namespace syntonon
