// A filter as the equations that a processor works through, to be read.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <cstddef>
#include <string>
#include <vector>

namespace syntonon {

// factor times a signal so many samples ago
struct EquationTerm {
    double factor = 1;
    std::string signal;
    std::size_t delay = 0;

    bool operator==(const EquationTerm&) const = default;
};
struct SampleEquation {
    std::string result;
    std::vector<EquationTerm> terms; // those with a factor of 0 left out

    bool operator==(const SampleEquation&) const = default;
};
// From "x" to "y"; what lies between is called u1, u2, … in the order in which it is worked out. A
// loop's return comes first: where it has no delay, its lines have to be solved together. The
// filter is not an analog one.
std::vector<SampleEquation> equation_system(const Filter& filter);

// One line an equation, from x[n] to y[n], or from X(s) to Y(s) of an analog filter; what lies
// between is called u1, u2, … in the order in which it is worked out (Oppenheim and Schafer,
// Discrete-Time Signal Processing, 6.1). Terms whose coefficient is 0 are left out; of long rows of
// taps the first few are written. Coefficients with `digits` significant digits.
std::vector<std::string> difference_equations(const Filter& filter, int digits = 9);

} // namespace syntonon
