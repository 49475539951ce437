// A chain's numbers as a processor's words, each the nearest one.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/word/word_chain.h"

#include <limits>

namespace syntonon {

struct SeriesParts; // see in_sections.h

// In which words, and how a section is computed.
struct WordFormat {
    Structure structure = Structure::direct_form_1;
    Arithmetic sections, taps;
    // What the processor takes in a direct form beside what its word holds: |b| and |a| are below.
    double b_below = std::numeric_limits<double>::infinity();
    double a_below = std::numeric_limits<double>::infinity();

    bool operator==(const WordFormat&) const = default;
};

// Refused: arithmetic that contradicts itself; a section that the structure cannot hold; a number
// beyond its word or the processor's limits, with what would help. Places are "section 3", "tap
// 12".
Expected<WordChain> nearest_words(const SeriesParts& parts, const WordFormat& format);

// One section, counted from 1 for messages; and taps.
Expected<StructuredSection> nearest_section(const Biquad& section, std::size_t number,
                                            const WordFormat& format);
Expected<std::vector<double>> nearest_taps(const std::vector<double>& taps, const Arithmetic& how);

// Whether a number of the network fits the word and the limits.
bool holds(const WordFormat& format, const Network& network, std::size_t number, double value);
bool holds(const WordFormat& format, const StructuredSection& section); // all of its numbers

} // namespace syntonon
