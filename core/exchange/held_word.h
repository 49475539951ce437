// How a file holds numbers as words of a processor, and back.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/written_numbers.h"
#include "core/word/arithmetic.h"

#include <optional>
#include <string_view>

namespace syntonon {

// A value is the word's own times 2^shift.
struct HeldWord {
    Word word;
    int shift = 0;

    bool operator==(const HeldWord&) const = default;
};

HeldWord held_word(const Arithmetic& how);
// "two's complement, 28 bits; value = word times 2^-23", "IEEE 754, float32", as deliveries say it,
// and "Q5.23" alone; nothing of other text.
std::optional<HeldWord> held_word_said(std::string_view text);

// Whole decimals are words, too, of a fixed format. Refused with the line: hexadecimal digits
// without a format, or more of them than it has bits; whole numbers beyond it; what is not finite.
Expected<double> value_of(const WrittenNumber& cell, const std::optional<HeldWord>& words);

} // namespace syntonon
