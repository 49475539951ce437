// What rounding inside a processor adds to its output.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/word/word_chain.h"

#include <string>
#include <vector>

namespace syntonon {

// Full scale is a sine of peak 1; 0 dBFS is its power.
struct NoiseSource {
    std::size_t section = 0; // counted from 0; the number of sections: the FIR
    std::string_view sum;    // of the network; "out" where a state's word becomes the data's
    double power = 0;        // of the errors where they are made
    double level_dbfs = 0;   // of what comes of them at the output
};

struct OutputNoise {
    double power = 0;                 // of the output's errors about their mean
    double level_dbfs = 0;            // the same; -infinity where nothing is rounded
    double mean = 0;                  // of the output, by truncation or rounding up
    double drowned_bits = 0;          // of the data's word: 0 when as loud as its own rounding
    std::vector<NoiseSource> sources; // the loudest first
    // Its spectrum, in dBFS of each Hz.
    std::vector<double> frequency_hz, density_db;
};

// Each rounding adds errors that are white and depend on nothing (L. B. Jackson, Roundoff-noise
// analysis for fixed-point digital filters realized in cascade or parallel form, IEEE Trans. Audio
// Electroacoust. 18, 1970). Fixed point: of power step^2 / 12, less what the bits cut off have of
// it (k bits: 1 - 4^-k); sums of exact products add none. Floats: see float_errors.h, with white
// noise of `signal_dbfs` at the input. Refused for a chain that is not stable.
Expected<OutputNoise> output_noise(const WordChain& chain, double sample_rate_hz,
                                   double signal_dbfs = -20);

} // namespace syntonon
