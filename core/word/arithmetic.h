// How a processor computes: the words of coefficients, signal and memory, and what happens to what
// they cannot hold.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/word.h"

#include <cstdint>

namespace syntonon {

// A sum of products, coefficient times signal each, is added up in the accumulator, in its order,
// and then becomes a word of the signal or of a state. Fixed point: a product with more bits behind
// the point than the accumulator has loses them by the rounding on the way in, and so does the sum
// on the way into its word; of these the sum is what makes noise, as a rule. Floats: each product
// and each sum is rounded to the accumulator's format (IEEE 754, to nearest).
struct Arithmetic {
    Word coefficient = Word::float64();
    int shift = 0;                // a coefficient c is held as c / 2^shift
    Word data = Word::float64();  // between sections, in and out
    Word state = Word::float64(); // what a section remembers
    Word accumulator = Word::float64();
    Rounding rounding = Rounding::nearest;
    Overflow overflow = Overflow::saturate; // of data and states
    Overflow accumulator_overflow = Overflow::wrap;

    bool is_fixed() const { return data.is_fixed(); }
    bool operator==(const Arithmetic&) const = default;
};

// Refused, with the field's name as place: words that are none; fixed and floating words mixed; an
// accumulator that holds less behind the point than the signal, fewer bits than any other word, or
// more than 24 bits below the products of which it is made.
Expected<void> check(const Arithmetic& arithmetic);

// The word that coefficients are values of: Q1.15 with shift 1 is as Q2.14.
Word coefficient_values(const Arithmetic& arithmetic);
// The whole number by which a fixed word holds a coefficient that it can hold.
std::int64_t whole_of(double coefficient, const Arithmetic& arithmetic);

} // namespace syntonon
