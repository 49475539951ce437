// How large the rounding errors of a section in floats are.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/arithmetic.h"
#include "core/word/structure.h"

#include <span>
#include <vector>

namespace syntonon {

// The mean power of the error of each sum of a network step by step, and of the data's word at its
// output; the signal becomes the section's output. A float's error depends on its value: a unit in
// the last place u of the result makes u^2 / 12, less what the bits that are cut off have of it (k
// bits: 1 - 4^-k), and none where the operands have no finer bits, as when two near values are
// subtracted (P. H. Sterbenz, Floating-Point Computation, 1974). So the values are looked at as
// they come up in the second half of the signal.
struct FloatErrors {
    std::vector<double> of_sums;
    double of_output = 0;
};
FloatErrors float_errors(const Network& step_by_step, std::span<const double> values,
                         const Arithmetic& how, std::span<double> signal);

} // namespace syntonon
