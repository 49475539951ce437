// Nonlinear least squares (Levenberg and Marquardt's). Its .cpp is the one place that knows the
// solver.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/units.h"
#include "core/design/watch.h"

#include <array>
#include <cstddef>
#include <functional>
#include <span>
#include <vector>

namespace syntonon {

// How the solver is kept within bounds: see Handle in refine_sections.cpp.
enum class Bounding { by_projection, by_sine };

// When refining ends: after so many steps, or when one makes the cost less by a smaller part.
struct Effort {
    int most_steps = 100;
    double least_part = 1e-5;
    Bounding bounding = Bounding::by_projection;
};

struct NumberBounds {
    double least = -infinity, greatest = infinity;
};

struct LeastSquares {
    std::size_t error_count = 0;
    // The errors of these numbers; where `slopes` is not empty, also theirs by each number, one row
    // an error.
    std::function<void(std::span<const double> numbers, std::span<double> errors,
                       std::span<double> slopes)>
        errors;
    // The solver's steps are projected onto these; as many as numbers, or none.
    std::vector<NumberBounds> bounds = {};
};

// Turns the numbers until the sum of the squared errors is least. Deterministic; ends early, with
// the best so far, when the watch says stop. What cannot be solved leaves them as they were.
void solve(const LeastSquares& task, std::span<double> numbers, const Effort& effort,
           const Watch& watch);

// Errors, and where there are some their slopes, of |e|^(power / 2), the sign kept, e in parts of
// `unit`: least squares of these make higher powers of the errors least. 2 changes nothing.
void raise_errors(double power, double unit, std::span<double> errors, std::span<double> slopes);

// With which one after the other the greatest error becomes least (C. Charalambous, A unified
// review of optimization, IEEE Trans. MTT 22, 1974, section IV).
inline constexpr std::array powers_to_greatest = {4.0, 8.0, 16.0, 32.0, 64.0};

} // namespace syntonon
