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

FrequencyGrid::FrequencyGrid(std::vector<double> frequency_hz, double sample_rate_hz)
    : sample_rate_hz_(sample_rate_hz), frequency_hz_(std::move(frequency_hz)),
      half_sine_squared_(frequency_hz_.size()), sine_(frequency_hz_.size()),
      cosine_(frequency_hz_.size()) {
    for (std::size_t i = 0; i < frequency_hz_.size(); ++i) {
        const double angle = rad_per_sample_from_hz(frequency_hz_[i], sample_rate_hz_);
        const double half_sine = std::sin(angle / 2);
        half_sine_squared_[i] = half_sine * half_sine;
        // At half the sample rate sin(pi) should be 0, not 1e-16 of rounding.
        const bool at_end = frequency_hz_[i] == nyquist_hz(sample_rate_hz_);
        sine_[i] = at_end ? 0.0 : std::sin(angle);
        cosine_[i] = std::cos(angle);
    }
}

Expected<FrequencyGrid> FrequencyGrid::from_frequencies(std::vector<double> frequency_hz,
                                                        double sample_rate_hz) {
    if (!(sample_rate_hz > 0) || !std::isfinite(sample_rate_hz)) {
        return refuse("sample_rate_hz", fmt::format("{} Hz is not a sample rate", sample_rate_hz),
                      "give a positive number");
    }
    for (const double f : frequency_hz) {
        if (!(f >= 0 && f <= nyquist_hz(sample_rate_hz))) {
            return refuse("frequency",
                          fmt::format("{} Hz is not between 0 and half the sample rate ({} Hz)", f,
                                      nyquist_hz(sample_rate_hz)),
                          "choose a frequency in that range");
        }
    }
    std::ranges::sort(frequency_hz);
    frequency_hz.erase(std::unique(frequency_hz.begin(), frequency_hz.end()), frequency_hz.end());
    return FrequencyGrid(std::move(frequency_hz), sample_rate_hz);
}

Expected<FrequencyGrid> FrequencyGrid::logarithmic(double low_hz, double high_hz, std::size_t count,
                                                   double sample_rate_hz) {
    if (!(low_hz > 0) || !(high_hz > low_hz) || count < 2) {
        return bad_ends(low_hz, high_hz, count);
    }
    std::vector<double> frequency_hz(count);
    const double step = std::log(high_hz / low_hz) / static_cast<double>(count - 1);
    for (std::size_t i = 0; i < count; ++i) {
        frequency_hz[i] = low_hz * std::exp(step * static_cast<double>(i));
    }
    frequency_hz.back() = high_hz;
    return from_frequencies(std::move(frequency_hz), sample_rate_hz);
}

Expected<FrequencyGrid> FrequencyGrid::linear(double low_hz, double high_hz, std::size_t count,
                                              double sample_rate_hz) {
    if (!(low_hz >= 0) || !(high_hz > low_hz) || count < 2) {
        return bad_ends(low_hz, high_hz, count);
    }
    std::vector<double> frequency_hz(count);
    const double step = (high_hz - low_hz) / static_cast<double>(count - 1);
    for (std::size_t i = 0; i < count; ++i) {
        frequency_hz[i] = low_hz + step * static_cast<double>(i);
    }
    frequency_hz.back() = high_hz;
    return from_frequencies(std::move(frequency_hz), sample_rate_hz);
}

} // namespace syntonon
