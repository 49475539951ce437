// Difference equations worked through by hand, as it were: every product of every sample.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/exchange/difference_equation.h"

#include <cstddef>
#include <map>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

struct WorkedEquations {
    std::vector<SampleEquation> system;
    std::map<std::string, std::vector<double>> values; // "x", "u1", …, "y", all of one length
};

// From rest, sample by sample, line by line: slow, and nothing but what the equations say. Refused
// where a line needs what comes only later: in a loop without delay.
Expected<WorkedEquations> work_through(std::vector<SampleEquation> system,
                                       std::span<const double> in);

// What made each value of sample n, a line an equation:
// "y[5] = 0.5 · 1 − 0.75 · 0.25 = 0.3125". Signals are silent before sample 0; products with what
// is silent there are left out, and of long rows those in the middle.
std::vector<std::string> products_at(const WorkedEquations& worked, std::size_t n, int digits);

} // namespace syntonon
