// The level of one bell or shelf at many frequencies, and how it changes with each of its numbers.
//
// With w the angle and w0 that of the section, u = cos w - cos w0, v = 1 - cos w cos w0,
// A = 10^(gain / 40), alpha = sin(w0) / (2 Q): on the circle, turned by e^jw (see CircleQuadratic),
// the sections of R. Bristow-Johnson, "Audio EQ Cookbook", W3C Group Note, 2021, are
//     peak:   (u + j A alpha sin w) / (u + j alpha sin w / A)
//     shelf:  A (a + j t) / (c + j t),  a = (A+1) u + (A-1) v,  c = (A+1) u - (A-1) v,
//             t = 2 sqrt(A) alpha sin w; the high shelf with a and c exchanged
// up to a common factor, so that level and derivatives are closed forms.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/parametric.h"
#include "core/filter/grid.h"

#include <array>
#include <span>

namespace syntonon {

// What is searched for: the logarithms, in which frequencies and widths are alike everywhere.
struct SectionNumbers {
    ParametricShape shape = ParametricShape::peak; // or a shelf, or an all-pass, without gain
    double log2_hz = 0, gain_db = 0, log2_q = 0;
};

SectionNumbers numbers_of_section(const ParametricSpec& spec); // of second order, width said by Q
ParametricSpec spec_of(const SectionNumbers& section);

// Adds the section's level in dB to `level_db`, of the grid's size.
void add_levels(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> level_db);
// The same, and its derivatives by log2_hz, gain_db and log2_q into `slopes`, each of the grid's
// size.
void add_levels(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> level_db, const std::array<std::span<double>, 3>& slopes);

} // namespace syntonon
