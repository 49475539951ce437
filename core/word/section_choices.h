// Words for one section, around the nearest ones.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/word/nearest_words.h"
#include "core/word/word_aim.h"

#include <vector>

namespace syntonon {

struct SectionChoice {
    StructuredSection words;
    std::vector<double> deviation_db; // of the section, place by place; the gain included
    double gain_db = 0;               // that it takes from the other sections
    double spread_db = 0;             // half of greatest less least deviation: without any gain
};

struct SectionChoices {
    std::vector<SectionChoice> choices; // the least spread first
    std::size_t tried = 0;
};

// All words of the poles within two steps (of structures with more than two numbers for them, one),
// the best of them; with these and gains of 6 dB either way all words of what comes out within a
// step, the best again: 72 in all, of a chain of up to four sections 144. Refused, as
// nearest_section is, where none fits; it is section `number`, counted from 1, `of` so many.
Expected<SectionChoices> section_choices(const Biquad& section, std::size_t number, std::size_t of,
                                         const WordFormat& format, const WordPlaces& places);

} // namespace syntonon
