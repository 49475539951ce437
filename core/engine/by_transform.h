// A signal through a filter by way of frequency: the transform of the signal times the response,
// transformed back. Nothing runs, so it checks what does.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/axis.h"

#include <span>
#include <vector>

namespace syntonon {

class Filter;

// As long as the signal. The transform is long enough for what rings on to have fallen by 300 dB,
// or as long as is reasonable (2^21): what is left then comes round to the beginning (Oppenheim and
// Schafer, Discrete-Time Signal Processing, section 8.4). Refused for an analog or unstable filter
// and for one that rings longer than that.
Expected<std::vector<double>> run_by_transform(const Filter& filter, const Axis& axis,
                                               std::span<const double> signal);

} // namespace syntonon
