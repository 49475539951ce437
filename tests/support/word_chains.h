// Sections, and the words that they are held in.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/cascade.h"
#include "core/word/word_chain.h"
#include "tests/support/section.h"

#include <algorithm>
#include <utility>
#include <vector>

namespace syntonon {

// Peaks, shelves and passes, one and two poles, real and complex; all of them stable.
inline std::vector<Biquad> many_sections() {
    std::vector<Biquad> sections;
    const auto add = [&](const Filter& filter) {
        const Cascade cascade = filter.sections().value();
        sections.insert(sections.end(), cascade.sections.begin(), cascade.sections.end());
    };
    add(section(ParametricShape::peak, 1000, 6, 1.4));
    add(section(ParametricShape::peak, 60, -9, 4));
    add(section(ParametricShape::low_shelf, 200, 5));
    add(section(ParametricShape::high_pass, 35, 0, 0.4)); // two real poles
    add(section(ParametricShape::low_pass, 15000));
    add(section(ParametricShape::notch, 5000, 0, 8));
    add(section(ParametricShape::low_pass, 3000, 0, 1, 1));
    return sections;
}

// Data of Q1.n; states of so many bits before the point, for what becomes large inside, and a sum
// of full length.
inline Arithmetic fixed_words(int coefficient_fraction, int data_fraction, int state_fraction,
                              int state_whole = 12) {
    Arithmetic a;
    a.coefficient = Word::fixed(3, coefficient_fraction);
    a.data = Word::fixed(1, data_fraction);
    a.state = Word::fixed(state_whole, state_fraction);
    a.accumulator = Word::fixed(24, coefficient_fraction + std::max(data_fraction, state_fraction));
    return a;
}

inline Arithmetic short_floats() {
    Arithmetic a;
    a.coefficient = a.data = a.state = a.accumulator = Word::float32();
    return a;
}

// The section's numbers, each rounded to the nearest word.
inline StructuredSection rounded_to_words(const Biquad& section, Structure structure,
                                          const Arithmetic& how) {
    StructuredSection made = structured(section, structure).value();
    for (double& value : made.values) {
        value = rounded(value, coefficient_values(how), Rounding::nearest);
    }
    return made;
}

} // namespace syntonon
