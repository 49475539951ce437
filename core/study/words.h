// A channel in the words of the processor that a delivery is for.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/in_sections.h"
#include "core/study/briefs.h"
#include "core/study/study.h"
#include "core/word/search_words.h"

#include <memory>
#include <string>

namespace syntonon {

// Refused: no processor named, one that is not there, a structure that it has not, a rate or a size
// of block that it does not run at.
Expected<WordFormat> word_format(const Study& study, const Delivery& delivery);

struct ChannelWords {
    WordChain chain;
    // The delivery wants searched words, and what was found is of another design or of other words:
    // these are the nearest.
    bool is_out_of_date = false;
};
// Of the parts as designed; `problem` places begin with the channel.
Expected<ChannelWords> words_of(const Study& study, const Delivery& delivery,
                                const std::string& channel, const SeriesParts& parts);
Expected<ChannelWords> words_of(const Study& study, const Delivery& delivery,
                                const Channel& channel, Briefs& briefs);

// A search to be run beside everything else.
struct WordSearch {
    std::string delivery, channel; // ids
    SeriesParts parts;
    WordFormat format;
    WordAim aim;
};
// With what the channel's goal demands, where it has one that can be worked out.
Expected<WordSearch> word_search(const Study& study, const Delivery& delivery,
                                 const Channel& channel, Briefs& briefs);
Expected<FoundWords> run(const WordSearch& search, const Watch& watch = {});
// In the place of what was found for that channel before.
void put_found(Delivery& delivery, FoundWords found);

} // namespace syntonon
