// The numbers behind a designed stage, in the order in which a textbook computes them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <string>
#include <vector>

namespace syntonon {

struct WorkingNumber {
    std::string symbol;  // "α", "b0"
    std::string meaning; // "sin(ω0) / (2 Q)"
    double value = 0;
    std::string unit; // "rad/sample" or empty

    bool operator==(const WorkingNumber&) const = default;
};

struct WorkingStep {
    std::string title; // "Before normalisation"
    std::vector<WorkingNumber> numbers;
};

// A row of numbers on the way, one a tap.
struct WorkingCurve {
    std::string title; // "Kaiser window"
    std::vector<double> values;

    bool operator==(const WorkingCurve&) const = default;
};

struct Working {
    std::string method; // the source of the equations, by title and year
    std::vector<WorkingStep> steps;
    std::vector<double> marked_hz = {}; // worth marking on the lanes
    WorkingCurve window = {};           // what taps were weighted with; mostly none
};

// Last steps: poles and zeros, each with radius and frequency, where they can be had.
void add_roots(Working& working, const Filter& filter, double sample_rate_hz);

} // namespace syntonon
