// Source text and words for processors, one writer a format.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/delivered_channel.h"

#include <string>
#include <vector>

namespace syntonon {

// A file of a delivery: what its name ends with after the pattern, and its bytes.
struct DeliveredText {
    std::string ending; // ".hpp", "_bench.v"
    std::string text;
};

// The numbers of the structure, or of sections where there is no processor: rows of words in
// hexadecimal, of values, a C array of whole numbers.
Expected<std::string> hex_words_text(const DeliveredChannel& channel, bool indexed);
Expected<std::string> word_table_text(const DeliveredChannel& channel,
                                      const CoefficientLayout& layout, bool indexed);

// A C++17 header without dependencies and without allocation: a class with its numbers, reset and
// process, which does what the run in words does to the last bit. Without a processor it works in
// doubles, in transposed form II. Refused where sums of the words need more than 64 bits.
Expected<std::string> cpp_class_text(const DeliveredChannel& channel);

// A program that sends an example through the class of FILE_NAME.hpp: it says "same as the run in
// words", or counts what differs and ends with 1. Only for fixed words.
std::string cpp_test_text(const DeliveredChannel& channel, const std::string& file_name);

// Verilog-2001: a module for sections and one for the FIR, one for the channel, memories for
// $readmemh, and a test bench with an input and the output that the run in words gave for it: it
// says "same as the run in words" or counts what differs. Refused for floats.
Expected<std::vector<DeliveredText>> verilog_texts(const DeliveredChannel& channel,
                                                   const std::string& file_name);

} // namespace syntonon
