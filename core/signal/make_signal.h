// Samples from a recipe.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/signal/recipe.h"

#include <functional>
#include <span>
#include <string_view>
#include <vector>

namespace syntonon {

struct SignalExtent {
    double sample_rate_hz = 48000;
    std::size_t samples = 48000;
};

// What a recipe does not hold itself.
struct SignalSources {
    // A sound file's samples at the extent's rate, as many as there are, no more than it says.
    std::function<Expected<std::vector<double>>(const FileRecipe&, const SignalExtent&)> file;
    // Another signal of the study, of the same extent: silence behind its own end.
    std::function<Expected<std::vector<double>>(std::string_view id, const SignalExtent&)> signal;
};

// As many samples as the extent says; all of them finite. Refuses, naming the field, what is out of
// its range, a frequency that is not below half the rate, what its sources refuse, and, without
// sources, the kinds that need some.
Expected<std::vector<double>> make_signal(const Recipe& recipe, const SignalExtent& extent,
                                          const SignalSources& sources = {});

// So that its greatest magnitude is `peak`; silence stays.
void scale_to_peak(std::vector<double>& signal, double peak);
double power_of(std::span<const double> signal); // the mean square

} // namespace syntonon
