// What a stretch of a signal holds at each frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/math/window.h"

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// What the heights of a spectrum mean; no setting is right for all signals.
enum class SpectrumScale {
    tone_level, // dB of a full-scale sine: a tone reads its level, noise depends on the length
    density,    // dB of a full-scale sine's power in each Hz: noise reads its own, tones depend
    ratio       // out over in, in dB: what the chain does
};

struct SpectrumSettings {
    Window window = {WindowShape::hann, 0, {}};
    std::size_t length = 8192;     // of one transform; longer than the signal: padded with zeros
    std::size_t most_averages = 0; // 0: as many as fit, overlapping by half
};

struct Spectrum {
    SpectrumScale scale = SpectrumScale::density;
    double step_hz = 1;     // between its bins, from 0 Hz to half the rate
    std::vector<double> db; // NaN where there is nothing to be told, -infinity for none
    std::size_t averages = 0;
    std::size_t length = 0;

    double hz_of(std::size_t bin) const { return step_hz * static_cast<double>(bin); }
};

// The mean of the powers of overlapping stretches (P. D. Welch, The use of fast Fourier transform
// for the estimation of power spectra, IEEE Trans. AU 15, 1967). A full-scale tone reads 0 dB at a
// bin, and with a flat-top window within 0.01 dB everywhere. Empty without samples.
Spectrum level_spectrum(std::span<const double> signal, double sample_rate_hz,
                        const SpectrumSettings& settings);
Spectrum density_spectrum(std::span<const double> signal, double sample_rate_hz,
                          const SpectrumSettings& settings);
// What is common to both by what came in: |sum X* Y| / sum |X|^2 (J. S. Bendat and A. G. Piersol,
// Random Data, 2010, section 6.1). `out` may go on longer than `in`, which is silent then.
Spectrum ratio_spectrum(std::span<const double> in, std::span<const double> out,
                        double sample_rate_hz, const SpectrumSettings& settings);
// Of all of a signal that dies away in one transform, without a window: exact. One that does not
// end at rest (a step) is told by its differences, and `out` then by its own.
Spectrum transient_ratio(std::span<const double> in, std::span<const double> out,
                         double sample_rate_hz);

// So that one average has a resolution and many a steady line: about 12 averages, of a power of two
// between 512 and 65536 samples.
std::size_t usual_spectrum_length(std::size_t samples);

// At any frequency, between bins straight; nothing beyond the ends or in a gap.
std::optional<double> value_at(const Spectrum& spectrum, double hz);

} // namespace syntonon
