// A chain as a processor holds it: sections in a structure, taps and a delay, in words.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/word/arithmetic.h"
#include "core/word/structure.h"

#include <cstddef>
#include <vector>

namespace syntonon {

// The sections run first, in their order, then the taps, then the delay.
struct WordChain {
    Structure structure = Structure::direct_form_1;
    Arithmetic section_words, tap_words;
    std::vector<StructuredSection> sections;
    std::vector<double> taps; // empty: there is no FIR
    std::size_t delay_samples = 0;

    bool operator==(const WordChain&) const = default;
};

// What its numbers make, in exact arithmetic: what can be drawn and judged.
Cascade cascade_of(const WordChain& chain);
Filter filter_of(const WordChain& chain);

} // namespace syntonon
