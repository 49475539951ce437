// SPDX-License-Identifier: GPL-3.0-or-later
// Noise with a stated spectrum: its bins are drawn at random and transformed.
#include "core/base/units.h"
#include "core/math/fft.h"
#include "core/math/seeded.h"
#include "core/signal/makers.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// A full-scale sine has half a unit of power.
double power_from_level(double level_db) {
    return 0.5 * ratio_from_db(level_db) * ratio_from_db(level_db);
}

template <class Amplitude>
std::vector<double> noise_of(const SignalExtent& extent, double seed, double level_db,
                             Amplitude amplitude) {
    const std::size_t length = quick_fft_length(std::max<std::size_t>(extent.samples, 2));
    RealFft fft(length);
    Seeded random(seed);
    const double step_hz = extent.sample_rate_hz / static_cast<double>(length);
    std::ranges::fill(fft.spectrum(), 0.0);
    for (std::size_t k = 1; k < fft.spectrum().size() - 1; ++k) {
        const double re = random.normal(), im = random.normal();
        fft.spectrum()[k] = amplitude(static_cast<double>(k) * step_hz) * std::complex(re, im);
    }
    fft.to_signal();
    std::vector<double> out(fft.signal().begin(),
                            fft.signal().begin() + static_cast<std::ptrdiff_t>(extent.samples));
    const double power = power_of(out);
    const double factor = power > 0 ? std::sqrt(power_from_level(level_db) / power) : 0;
    for (double& sample : out) {
        sample *= factor;
    }
    return out;
}

} // namespace

std::vector<double> made(const WhiteNoiseRecipe& recipe, const SignalExtent& extent) {
    return noise_of(extent, recipe.seed, recipe.level_db, [](double) { return 1.0; });
}

std::vector<double> made(const PinkNoiseRecipe& recipe, const SignalExtent& extent) {
    constexpr double lowest_hz = 10; // below, nothing is heard and little is left for the rest
    return noise_of(extent, recipe.seed, recipe.level_db,
                    [](double hz) { return hz < lowest_hz ? 0 : 1 / std::sqrt(hz); });
}

std::vector<double> made(const BandNoiseRecipe& recipe, const SignalExtent& extent) {
    return noise_of(extent, recipe.seed, recipe.level_db, [&](double hz) {
        return hz >= recipe.from_hz && hz <= recipe.to_hz ? 1.0 : 0.0;
    });
}

} // namespace syntonon
