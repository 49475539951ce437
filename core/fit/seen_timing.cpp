// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/seen_timing.h"

#include "core/base/units.h"
#include "core/curve/phase_parts.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// By the excess phase above a frequency, weighted alike in every octave: the delay, in seconds,
// and the turns at 0 Hz, whole or half ones (a loudspeaker that is connected the wrong way round).
struct Straight {
    double delay_s = 0, at_zero_deg = 0;
};
Straight straight_part(const Curve& curve, const std::vector<double>& excess_deg, double from_hz,
                       double to_hz) {
    double ff = 0, fp = 0;
    const auto each = [&](auto take) {
        for (std::size_t i = 1; i < curve.frequency_hz.size(); ++i) {
            const double hz = curve.frequency_hz[i];
            if (hz >= from_hz && hz <= to_hz) {
                take(hz, excess_deg[i], std::log(hz / curve.frequency_hz[i - 1]) / hz);
            }
        }
    };
    // The slope between neighbours does not know about turns at 0 Hz.
    double mean_f = 0, mean_p = 0, weights = 0;
    each([&](double hz, double phase, double weight) {
        mean_f += weight * hz;
        mean_p += weight * phase;
        weights += weight;
    });
    each([&](double hz, double phase, double weight) {
        ff += weight * (hz - mean_f / weights) * (hz - mean_f / weights);
        fp += weight * (hz - mean_f / weights) * (phase - mean_p / weights);
    });
    const double slope = ff > 0 ? fp / ff : 0; // degrees per Hz
    const double at_zero = weights > 0 ? (mean_p - slope * mean_f) / weights : 0;
    return {-slope / 360, 180 * std::round(at_zero / 180)};
}

} // namespace

Curve behind_stages(const SampledCurve& seen, const Brief& brief) {
    Curve curve;
    const double end_hz = brief.axis().end_hz();
    for (std::size_t i = 0; i < seen.frequency_hz.size(); ++i) {
        if (seen.frequency_hz[i] < end_hz) {
            curve.frequency_hz.push_back(seen.frequency_hz[i]);
            curve.magnitude_db.push_back(seen.level_db[i]);
            curve.phase_deg.push_back(seen.phase_deg[i]);
        }
    }
    const auto grid = *FrequencyGrid::from_frequencies(curve.frequency_hz, brief.axis());
    const Response above = brief.above.response(grid);
    double last = 0, turns = 0;
    for (std::size_t i = 0; i < curve.phase_deg.size(); ++i) {
        const double now = curve.phase_deg[i];
        turns += i > 0 ? std::remainder(now - last, 360.0) - (now - last) : 0;
        last = now;
        curve.phase_deg[i] = now + turns + deg_from_rad(above.phase_rad[i]);
        curve.magnitude_db[i] += above.magnitude_db[i];
    }
    return curve;
}

Expected<SeenTiming> seen_timing(const Brief& brief, double from_hz, double to_hz) {
    if (brief.seen.timing == nullptr || brief.seen.timing->phase_deg.empty()) {
        return refuse("", "needs a timing, and not every position of the set has phase",
                      "measure impulse responses, or correct the level only");
    }
    SeenTiming timing{behind_stages(*brief.seen.timing, brief), {}};
    auto parts = phase_parts(timing.curve, brief.sample_rate_hz);
    if (!parts) {
        return tl::unexpected(parts.error());
    }
    // Of the sound itself, which is not what low frequencies do late.
    constexpr double sound_from_hz = 500;
    const double from = std::min(std::max(from_hz, sound_from_hz), to_hz / 2);
    timing.excess_deg = std::move(parts->excess_deg);
    const Straight straight = straight_part(timing.curve, timing.excess_deg, from, to_hz);
    for (std::size_t i = 0; i < timing.excess_deg.size(); ++i) {
        timing.excess_deg[i] +=
            360 * straight.delay_s * timing.curve.frequency_hz[i] - straight.at_zero_deg;
    }
    return timing;
}

double at_hz(const std::vector<double>& hz, const std::vector<double>& values, double at) {
    const auto above = std::ranges::upper_bound(hz, at);
    const auto i = static_cast<std::size_t>(above - hz.begin());
    if (i == 0 || i == hz.size()) {
        return i == 0 ? values.front() : values.back();
    }
    const double share = std::log(at / hz[i - 1]) / std::log(hz[i] / hz[i - 1]);
    return std::lerp(values[i - 1], values[i], share);
}

} // namespace syntonon
