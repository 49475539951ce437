// Taps as text: pasted, or from a file.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// A word in two's complement: its value is the whole number by 2^fraction_bits.
struct TextWord {
    int bits = 16;          // 2 to 64
    int fraction_bits = 15; // any
};

// Numbers parted by blanks, ends of lines, semicolons or commas; # starts a comment. Where no point
// stands anywhere and every line is one number with a comma, the comma is a decimal one. Where
// every line is two numbers, the first of them whole and counting from 0 or 1, that is an index: it
// has to rise by one. Of a text with braces what stands between the first and the last is read as a
// C array: comments and the suffixes f and L are left out. Words like 0x7FFF need their format,
// given or stated.
// Refuses, with the line's number, what is no number, an index out of order, a word without a
// format or too long for it, and a text without any number.
Expected<std::vector<double>> taps_from_text(std::string_view text,
                                             const std::optional<TextWord>& words = {});
Expected<std::vector<double>> taps_from_file(const std::filesystem::path& path,
                                             const std::optional<TextWord>& words = {});

// What a text says of its own words: "word: 16 bits, 15 of them a fraction".
std::optional<TextWord> stated_format(std::string_view text);

enum class TapsLayout {
    lines,   // one a line, with all digits
    indexed, // "0 0.25"
    c_array, // of doubles
    words    // one a line, in hexadecimal
};

// `head`: lines that go before, as comments; of words, which need it, their format with them.
// Refuses, naming it, a tap that is out of the words' range; rounded to the nearest, ties to even.
struct TapsWriting {
    TapsLayout layout = TapsLayout::lines;
    std::vector<std::string> head = {};
    TextWord words = {};
};
Expected<std::string> taps_text(std::span<const double> taps, const TapsWriting& writing);
std::string taps_text(std::span<const double> taps); // as lines, without a head

} // namespace syntonon
