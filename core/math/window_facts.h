// What a window does to a spectrum.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// Harris (see window.h), table 1, in bins of the window's own length.
struct WindowFacts {
    double side_lobe_db = 0;         // the highest, against the main lobe; -inf: there is none
    double main_lobe_bins = 0;       // from its middle to its first minimum
    double half_power_bins = 0;      // its width at -3.01 dB
    double noise_bandwidth_bins = 0; // N sum w^2 / (sum w)^2
    double coherent_gain = 0;        // sum w / N
};

// Its level against that at 0, from 0 to half the rate, at about 16 points a bin.
struct WindowSpectrum {
    std::vector<double> level_db;
    double bins_a_point = 1;
};

// Nothing for values whose sum is 0 or that are too few (1).
std::optional<WindowSpectrum> window_spectrum(std::span<const double> values);
std::optional<WindowFacts> window_facts(std::span<const double> values);

} // namespace syntonon
