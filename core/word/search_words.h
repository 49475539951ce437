// A chain's numbers as words that lie together so that their errors cancel.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/word/nearest_words.h"
#include "core/word/section_arrangement.h"
#include "core/word/word_aim.h"

#include <optional>
#include <vector>

namespace syntonon {

struct SearchedWords {
    WordChain chain;
    SectionArrangement arrangement; // of the sections without bare gains
    double worst_db = 0;            // greatest deviation of level at the aim's places
    std::optional<double>
        nearest_worst_db; // of the nearest words as given; absent where they do not fit
    double room_db = 0;   // what is left of the demands where it is least; infinite without
    std::size_t tried = 0;
};

// First each section by itself: words around the nearest, all of them, of the poles and, for many
// gains, of what comes out; then jointly: for one section after the other and for each two of them
// the words by which the whole chain's worst error is least, again from disturbed beginnings. The
// gains that the sections take from one another stay within what the data's word holds. Never worse
// than the nearest words. FIR taps: nearest, then one step up or down as long as that helps, up to
// 512 of them. Refused as nearest_words is where nothing fits, and when the watch is stopped.
Expected<SearchedWords> search_words(const SeriesParts& parts, const WordFormat& format,
                                     const WordAim& aim, const Watch& watch = {});

} // namespace syntonon
