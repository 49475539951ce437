// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/harmonics.h"

#include "core/base/units.h"
#include "core/engine/filter_engine.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace syntonon {

Expected<Harmonics> harmonics_of(const Filter& filter, double hz, double peak,
                                 double sample_rate_hz, std::size_t most) {
    if (!(hz > 0 && hz < sample_rate_hz / 2)) {
        return refuse("frequency_hz", fmt::format("{} Hz is not below half the sample rate", hz),
                      "choose a lower one");
    }
    auto engine = engine_of(filter);
    if (!engine) {
        return tl::unexpected(engine.error());
    }
    constexpr std::size_t length = 16384;
    const double periods = std::max(1.0, std::round(hz / sample_rate_hz * length));
    Harmonics found;
    found.tone_hz = periods * sample_rate_hz / length;
    const auto settling =
        static_cast<std::size_t>(sample_rate_hz / 2 + 4 * sample_rate_hz / found.tone_hz);
    const std::size_t whole = (settling / length + 1) * length;
    std::vector<double> signal(whole + length);
    for (std::size_t n = 0; n < signal.size(); ++n) {
        const double turns = std::fmod(periods * static_cast<double>(n), double(length)) / length;
        signal[n] = peak * std::sin(2 * std::numbers::pi * turns);
    }
    (*engine)->process(signal);
    RealFft spectrum(length);
    std::copy_n(signal.end() - length, length, spectrum.signal().begin());
    spectrum.to_spectrum();
    const auto bins = spectrum.spectrum();
    double power = 0, of_tones = 0, first = 0;
    for (std::size_t k = 1; k < length / 2; ++k) {
        power += std::norm(bins[k]);
    }
    const auto step = static_cast<std::size_t>(periods);
    for (std::size_t k = step; k < length / 2 && found.level_db.size() < most; k += step) {
        const double amplitude = std::abs(bins[k]) * 2 / length;
        found.level_db.push_back(db_from_ratio(amplitude));
        of_tones += std::norm(bins[k]);
        first = k == step ? std::norm(bins[k]) : first;
    }
    found.distortion = first > 0 ? std::sqrt(std::max(0.0, of_tones - first) / first) : 0;
    found.rest_db = db_from_ratio(std::sqrt(std::max(0.0, power - of_tones)) * 2 / length);
    return found;
}

} // namespace syntonon
