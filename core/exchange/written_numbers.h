// Numbers of any text in rows: tables, named numbers, arrays of C, words of memories.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstddef>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// A number as it is written, with a decimal point, without C's suffixes.
struct WrittenNumber {
    std::string text;     // "-1.5e-3", "0x7fe3"
    std::size_t line = 0; // from 1

    bool is_word() const { return text.starts_with("0x"); }
};

struct WrittenRow {
    std::string name; // what it is called, see below; else empty
    std::vector<WrittenNumber> cells;
    std::string words; // the last comment above that says how words are read
};

struct WrittenNumbers {
    std::vector<WrittenRow> rows;
    std::vector<std::string> titles;                      // of a table's columns, as written
    std::map<std::string, std::string, std::less<>> said; // by "key: value" in comments
    std::vector<std::string> left_out; // names of numbers that are none of a filter
};

// Of a text with braces what stands between them, a row for each innermost pair; else a row a line,
// or as brackets and semicolons part them. Comments are what # or // begin, or what stands between
// /* and */. Numbers are parted by blanks, commas, semicolons or bars; where no point stands
// anywhere and every number has one comma at most, commas are decimal. Lines of hexadecimal digits
// alone, equally many each, are words of a memory. Names are those of coefficients ("b0", "gain"),
// of their rows ("b", "a", "taps") and "rate", however the text puts them: "b[0] =", ".b0 =",
// "Numerator:", "float low_b[] =". Refused with the line: what is no number, braces that do not
// match, more than 4 million numbers; and a text without any.
Expected<WrittenNumbers> written_numbers(std::string_view text);

} // namespace syntonon
