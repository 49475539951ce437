// The shortest vector that satisfies linear inequalities.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// min |A x - b| with x >= 0; A row by row, of so many columns (C. L. Lawson and R. J. Hanson,
// Solving Least Squares Problems, 1974, chapter 23, algorithm NNLS).
std::vector<double> nonnegative_least_squares(std::span<const double> a, std::size_t columns,
                                              std::span<const double> b);

// min |x| with G x >= h, G row by row, of so many columns (the same chapter, problem LDP). Nothing
// where no x satisfies all of them.
std::optional<std::vector<double>> least_distance(std::span<const double> g, std::size_t columns,
                                                  std::span<const double> h);

} // namespace syntonon
