// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/levels.h"

#include "core/base/units.h"
#include "core/signal/make_signal.h"

#include <algorithm>
#include <cmath>
#include <ebur128.h>
#include <memory>

namespace syntonon {
namespace {

constexpr double power_of_full_scale = 0.5; // of a sine

struct Closes {
    void operator()(ebur128_state* state) const { ebur128_destroy(&state); }
};
using Meter = std::unique_ptr<ebur128_state, Closes>;

Meter meter_for(double sample_rate_hz, int mode) {
    return Meter(ebur128_init(1, static_cast<unsigned long>(std::lround(sample_rate_hz)), mode));
}

std::optional<double> loudness_of(std::span<const double> signal, double sample_rate_hz) {
    const Meter meter = meter_for(sample_rate_hz, EBUR128_MODE_I);
    double lufs = 0;
    if (!meter || ebur128_add_frames_double(meter.get(), signal.data(), signal.size()) != 0
        || ebur128_loudness_global(meter.get(), &lufs) != 0 || !std::isfinite(lufs)) {
        return {};
    }
    return lufs;
}

std::optional<double> true_peak_of(std::span<const double> signal, double sample_rate_hz) {
    const Meter meter = meter_for(sample_rate_hz, EBUR128_MODE_TRUE_PEAK);
    double peak = 0;
    if (!meter || ebur128_add_frames_double(meter.get(), signal.data(), signal.size()) != 0
        || ebur128_true_peak(meter.get(), 0, &peak) != 0 || !(peak > 0)) {
        return {};
    }
    return db_from_ratio(peak);
}

} // namespace

SignalLevels levels_of(std::span<const double> signal, double sample_rate_hz) {
    SignalLevels levels;
    const double power = power_of(signal);
    double peak = 0;
    for (const double sample : signal) {
        peak = std::max(peak, std::abs(sample));
        levels.beyond_full_scale += std::abs(sample) > 1 ? 1 : 0;
    }
    if (!(power > 0) || !std::isfinite(power)) {
        return levels;
    }
    levels.level_db = db_from_power(power / power_of_full_scale);
    levels.peak_db = db_from_ratio(peak);
    levels.crest_db = db_from_ratio(peak) - db_from_power(power);
    levels.true_peak_db = true_peak_of(signal, sample_rate_hz);
    levels.loudness_lufs = loudness_of(signal, sample_rate_hz);
    return levels;
}

double gain_to_match_db(const SignalLevels& of, const SignalLevels& wanted) {
    if (of.loudness_lufs && wanted.loudness_lufs) {
        return *wanted.loudness_lufs - *of.loudness_lufs;
    }
    return of.level_db && wanted.level_db ? *wanted.level_db - *of.level_db : 0;
}

std::vector<double> level_over_time(std::span<const double> signal, std::size_t stretch) {
    std::vector<double> levels;
    for (std::size_t from = 0; from < signal.size(); from += stretch) {
        const std::size_t count = std::min(stretch, signal.size() - from);
        levels.push_back(
            db_from_power(power_of(signal.subspan(from, count)) / power_of_full_scale));
    }
    return levels;
}

std::vector<std::size_t> histogram_of(std::span<const double> signal, double peak,
                                      std::size_t count) {
    std::vector<std::size_t> steps(count);
    const double last = static_cast<double>(count - 1);
    for (const double sample : signal) {
        const double place = (sample / peak + 1) / 2 * static_cast<double>(count);
        ++steps[static_cast<std::size_t>(std::clamp(std::floor(place), 0.0, last))];
    }
    return steps;
}

} // namespace syntonon
