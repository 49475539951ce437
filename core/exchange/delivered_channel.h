// A channel as it is handed over: as designed, and in the words of the processor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/coefficients.h"
#include "core/study/words.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct DeliveredChannel {
    std::string id;
    CoefficientSet set;             // as designed; its `about` says what made it
    std::optional<WordChain> words; // of a delivery for a processor
    SectionConvention convention;   // the processor's, else the layout's
};
// Refused as words_of is, and where searched words are out of date.
Expected<DeliveredChannel> delivered_channel(const Study& study, const Delivery& delivery,
                                             const Channel& channel, Briefs& briefs);

// The set with the words' sections and taps in the place of the designed ones.
CoefficientSet set_of_words(const DeliveredChannel& channel);

// Sections' numbers as the processor wants them: in its order and with its signs, for direct forms;
// else in the order of the structure's network.
struct WordRows {
    std::vector<std::string> titles;
    std::vector<std::vector<double>> rows;
};
// Refused, naming the section, where a number does not fit with the other sign.
Expected<WordRows> word_rows(const DeliveredChannel& channel);

// A number as it is held: shifted, two's complement or IEEE 754, "0x1fe3".
std::string word_hexadecimal(double value, const Arithmetic& how);

// What made it, as lines of a comment in C++ or Verilog.
std::string source_head(const CoefficientSet& set);
// A name for a class or module: lower case, "_" between words, no digit first.
std::string source_name(const CoefficientSet& set);

} // namespace syntonon
