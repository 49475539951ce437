// Taps through samples of the gain at any places, and those samples left to the program.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/amplitude.h"

#include <cstddef>
#include <optional>
#include <vector>

namespace syntonon {

struct PlacedSample {
    double w = 0;               // rad/sample, 0 to pi
    std::optional<double> gain; // absent: chosen so that the errors elsewhere are least
};

struct SampledTaps {
    std::vector<double> taps;
    std::size_t rank = 0;             // of the equations: what the taps can meet
    double error = 0;                 // the greatest, at a sample that is given
    std::vector<double> chosen = {};  // gains of the samples left to the program, in order
    std::optional<double> worst = {}; // weighted error where it was to be least; if any was
};

inline constexpr std::size_t most_chosen_samples = 64;

// The least squares where there are more samples than taps can meet, the smallest taps where there
// are fewer (Golub and Van Loan, Matrix Computations, 4th ed., section 5.5). Linear phase where the
// delay is the taps' middle; samples at the grid's places 2 pi k / length, all but a few, are then
// met by an inverse Fourier transform (T. W. Parks and C. S. Burrus, Digital Filter Design, 1987,
// section 3.1). At most `most_chosen_samples` without a gain, and only with linear phase: they make
// the greatest weighted error over `least_over` least (L. R. Rabiner, B. Gold and C. A. McGonegal,
// "An approach to the approximation problem for nonrecursive digital filters", IEEE Trans. Audio
// Electroacoust. 18, 1970), looked for at 48 places for each tap and at the ends of the pieces.
SampledTaps taps_through(const std::vector<PlacedSample>& samples, std::size_t length,
                         double delay_samples, const Amplitude& least_over);

// From each sample of gain 0 to a neighbour that is 0 too, and on to 0 or pi from the outermost
// samples.
Amplitude stop_stretches(const std::vector<PlacedSample>& samples);

} // namespace syntonon
