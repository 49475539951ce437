// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/curve_setting.h"

#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon::oca {
namespace {

constexpr double lowest_hz = 10, highest_share = 0.499; // of the rate

struct Polar {
    double ratio = 1, phase_rad = 0;
};

Polar at(const CurveSetting& curve, double hz) {
    const auto& all = curve.frequency_hz;
    const auto above = std::ranges::upper_bound(all, static_cast<float>(hz));
    const auto i = static_cast<std::size_t>(above - all.begin());
    if (i == 0) {
        return {curve.amplitude.front(), curve.phase_rad.front() * hz / all.front()};
    }
    if (above == all.end()) {
        return {curve.amplitude.back(), curve.phase_rad.back()};
    }
    const double share = (hz - all[i - 1]) / (all[i] - all[i - 1]);
    return {std::lerp(double(curve.amplitude[i - 1]), double(curve.amplitude[i]), share),
            std::lerp(double(curve.phase_rad[i - 1]), double(curve.phase_rad[i]), share)};
}

} // namespace

Expected<CurveSetting> curve_of(const Filter& filter, double sample_rate_hz, std::size_t points) {
    const EvenSpacing spacing{true, lowest_hz, highest_share * sample_rate_hz, points};
    return FrequencyGrid::evenly(spacing, Axis(sample_rate_hz)).map([&](const FrequencyGrid& grid) {
        const syntonon::Response response = filter.response(grid);
        CurveSetting curve;
        for (std::size_t i = 0; i < points; ++i) {
            curve.frequency_hz.push_back(static_cast<float>(spacing.at(i)));
            curve.amplitude.push_back(
                static_cast<float>(std::pow(10, response.magnitude_db[i] / 20)));
            curve.phase_rad.push_back(static_cast<float>(response.phase_rad[i]));
        }
        return curve;
    });
}

std::vector<double> taps_of(const CurveSetting& curve, double sample_rate_hz) {
    if (curve.frequency_hz.empty()) {
        return {1};
    }
    RealFft fft(curve_taps);
    const auto bins = fft.spectrum();
    for (std::size_t k = 0; k < bins.size(); ++k) {
        const Polar wanted =
            at(curve, static_cast<double>(k) * sample_rate_hz / static_cast<double>(curve_taps));
        const double half_way = k % 2 == 0 ? 1 : -1; // half the length later
        bins[k] = half_way * std::polar(1.0, wanted.phase_rad) * wanted.ratio;
    }
    bins.front().imag(0);
    bins.back().imag(0);
    fft.to_signal();
    const auto signal = fft.signal();
    std::vector<double> taps(signal.begin(), signal.end());
    for (double& tap : taps) {
        tap /= static_cast<double>(curve_taps);
    }
    return taps;
}

} // namespace syntonon::oca
