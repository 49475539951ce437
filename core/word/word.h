// A number format on a processor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstdint>
#include <string>
#include <string_view>

namespace syntonon {

enum class WordKind { float64, float32, fixed };

// A fixed-point word Qm.n is a whole number in two's complement of m + n bits, the sign among the
// m, times 2^-n: Q1.15 holds -1 to 1 - 2^-15. Every value of a word of 48 bits is a double exactly.
struct Word {
    WordKind kind = WordKind::float64;
    int whole_bits = 1;     // m, of a fixed word; may be negative
    int fraction_bits = 31; // n

    static Word fixed(int whole_bits, int fraction_bits) {
        return {WordKind::fixed, whole_bits, fraction_bits};
    }
    static Word float32() { return {WordKind::float32}; }
    static Word float64() { return {WordKind::float64}; }

    bool is_fixed() const { return kind == WordKind::fixed; }
    int bits() const; // on the processor
    bool operator==(const Word& other) const {
        return kind == other.kind
               && (!is_fixed()
                   || (whole_bits == other.whole_bits && fraction_bits == other.fraction_bits));
    }
};

inline constexpr int least_word_bits = 2, most_word_bits = 48, most_accumulator_bits = 96;

// Between neighbours of a fixed word; of a float the spacing just below 1.
double step_of(const Word& word);
double least_of(const Word& word);
double greatest_of(const Word& word);

// "float64", "float32", "Q1.31", "Q-2.18" and back. Refused: other text, and fixed words of fewer
// than 2 or more bits than may be, or whose n is not between -32 and 94.
std::string text_of(const Word& word);
Expected<Word> word_from_text(std::string_view text, int most_bits = most_word_bits);
Expected<void> check(const Word& word, int most_bits = most_word_bits);

// How a value between two words becomes one of them.
enum class Rounding {
    truncate,  // the lower one, as cutting off bits in two's complement does
    nearest,   // the nearer one, the upper one of two equally near
    convergent // the nearer one, the even one of two equally near
};
// And one beyond the greatest or least.
enum class Overflow { saturate, wrap };

// The word's value for a real number. Floats are rounded to the nearest, ties to even, whatever is
// wished (IEEE 754). Not a number stays so in floats and is 0 in fixed words.
double rounded(double value, const Word& word, Rounding rounding,
               Overflow overflow = Overflow::saturate);
// Whether rounding leaves it in the word's range.
bool fits(double value, const Word& word, Rounding rounding = Rounding::nearest);

// The bits that a word's value has on the processor, from the lowest: two's complement, or IEEE
// 754.
std::uint64_t pattern_of(double value, const Word& word);
double from_pattern(std::uint64_t pattern, const Word& word);
// Of as many digits as its bits need: "0x1fe3".
std::string hexadecimal(double value, const Word& word);

std::string_view key_of(Rounding rounding); // "truncate", "nearest", "convergent"
std::string_view key_of(Overflow overflow); // "saturate", "wrap"

} // namespace syntonon
