// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/word.h"

#include <bit>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace syntonon {
namespace {

constexpr int least_fraction_bits = -32, most_fraction_bits = 94;

// In steps; at most 2^48 in size, or the end that it is beyond.
double in_steps(double value, const Word& word, Rounding rounding) {
    const double scaled = std::ldexp(value, word.fraction_bits);
    const double floor = std::floor(scaled);
    switch (rounding) {
    case Rounding::truncate:
        return floor;
    case Rounding::nearest:
        return scaled - floor >= 0.5 ? floor + 1 : floor;
    case Rounding::convergent: {
        const double rest = scaled - floor;
        const bool up = rest > 0.5 || (rest == 0.5 && std::fmod(floor, 2) != 0);
        return up ? floor + 1 : floor;
    }
    }
    return floor;
}

double half_range(const Word& word) { // in steps
    return std::ldexp(1.0, word.bits() - 1);
}

bool is_in_range(double steps, const Word& word) {
    const double half = half_range(word);
    return steps >= -half && steps <= half - 1;
}

Expected<int> whole_number(std::string_view text, std::string_view all) {
    int value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size()) {
        return refuse("", fmt::format("“{}” is not a word", all),
                      "write float32, float64 or Q with both numbers of bits, as Q1.31");
    }
    return value;
}

} // namespace

int Word::bits() const {
    switch (kind) {
    case WordKind::float64:
        return 64;
    case WordKind::float32:
        return 32;
    case WordKind::fixed:
        break;
    }
    return whole_bits + fraction_bits;
}

double step_of(const Word& word) {
    switch (word.kind) {
    case WordKind::float64:
        return std::numeric_limits<double>::epsilon() / 2;
    case WordKind::float32:
        return std::numeric_limits<float>::epsilon() / 2;
    case WordKind::fixed:
        break;
    }
    return std::ldexp(1.0, -word.fraction_bits);
}

double greatest_of(const Word& word) {
    switch (word.kind) {
    case WordKind::float64:
        return std::numeric_limits<double>::max();
    case WordKind::float32:
        return std::numeric_limits<float>::max();
    case WordKind::fixed:
        break;
    }
    return std::ldexp(half_range(word) - 1, -word.fraction_bits);
}

double least_of(const Word& word) {
    return word.is_fixed() ? -std::ldexp(half_range(word), -word.fraction_bits)
                           : -greatest_of(word);
}

std::string text_of(const Word& word) {
    switch (word.kind) {
    case WordKind::float64:
        return "float64";
    case WordKind::float32:
        return "float32";
    case WordKind::fixed:
        break;
    }
    return fmt::format("Q{}.{}", word.whole_bits, word.fraction_bits);
}

Expected<Word> word_from_text(std::string_view text, int most_bits) {
    if (text == "float64") {
        return Word::float64();
    }
    if (text == "float32") {
        return Word::float32();
    }
    const auto point = text.find('.');
    if (text.empty() || text[0] != 'Q' || point == std::string_view::npos) {
        return tl::unexpected(whole_number("", text).error());
    }
    const auto whole = whole_number(text.substr(1, point - 1), text);
    const auto fraction = whole_number(text.substr(point + 1), text);
    if (!whole || !fraction) {
        return tl::unexpected((whole ? fraction : whole).error());
    }
    const Word word = Word::fixed(*whole, *fraction);
    if (auto ok = check(word, most_bits); !ok) {
        return tl::unexpected(ok.error());
    }
    return word;
}

Expected<void> check(const Word& word, int most_bits) {
    if (!word.is_fixed()) {
        return {};
    }
    if (word.fraction_bits < least_fraction_bits || word.fraction_bits > most_fraction_bits) {
        return refuse("",
                      fmt::format("{} bits behind the point are not between {} and {}",
                                  word.fraction_bits, least_fraction_bits, most_fraction_bits),
                      "give the word fewer, and the coefficients a shift");
    }
    // Bits before the point may be any number; their sum with those behind must not overflow.
    if (word.whole_bits < -most_fraction_bits || word.whole_bits > most_fraction_bits
        || word.bits() < least_word_bits || word.bits() > most_bits) {
        return refuse("",
                      fmt::format("{} does not have {} to {} bits", text_of(word), least_word_bits,
                                  most_bits),
                      "the sign counts among the bits before the point: Q1.31 has 32");
    }
    return {};
}

double rounded(double value, const Word& word, Rounding rounding, Overflow overflow) {
    if (word.kind == WordKind::float64) {
        return value;
    }
    if (word.kind == WordKind::float32) {
        return static_cast<float>(value);
    }
    if (std::isnan(value)) {
        return 0;
    }
    double steps = in_steps(value, word, rounding);
    const double half = half_range(word);
    if (!is_in_range(steps, word)) {
        if (overflow == Overflow::saturate || std::isinf(steps)) {
            steps = steps < 0 ? -half : half - 1;
        } else {
            steps -= 2 * half * std::floor((steps + half) / (2 * half));
        }
    }
    return std::ldexp(steps, -word.fraction_bits);
}

bool fits(double value, const Word& word, Rounding rounding) {
    if (!word.is_fixed()) {
        return std::isfinite(rounded(value, word, rounding));
    }
    return std::isfinite(value) && is_in_range(in_steps(value, word, rounding), word);
}

std::uint64_t pattern_of(double value, const Word& word) {
    switch (word.kind) {
    case WordKind::float64:
        return std::bit_cast<std::uint64_t>(value);
    case WordKind::float32:
        return std::bit_cast<std::uint32_t>(static_cast<float>(value));
    case WordKind::fixed:
        break;
    }
    const auto steps = static_cast<std::int64_t>(std::ldexp(value, word.fraction_bits));
    return static_cast<std::uint64_t>(steps) & ((std::uint64_t{1} << word.bits()) - 1);
}

double from_pattern(std::uint64_t pattern, const Word& word) {
    switch (word.kind) {
    case WordKind::float64:
        return std::bit_cast<double>(pattern);
    case WordKind::float32:
        return std::bit_cast<float>(static_cast<std::uint32_t>(pattern));
    case WordKind::fixed:
        break;
    }
    auto steps = static_cast<double>(pattern & ((std::uint64_t{1} << word.bits()) - 1));
    if (steps >= half_range(word)) {
        steps -= 2 * half_range(word);
    }
    return std::ldexp(steps, -word.fraction_bits);
}

std::string hexadecimal(double value, const Word& word) {
    return fmt::format("0x{:0{}x}", pattern_of(value, word), (word.bits() + 3) / 4);
}

std::string_view key_of(Rounding rounding) {
    switch (rounding) {
    case Rounding::truncate:
        return "truncate";
    case Rounding::nearest:
        return "nearest";
    case Rounding::convergent:
        return "convergent";
    }
    return "";
}

std::string_view key_of(Overflow overflow) {
    return overflow == Overflow::saturate ? "saturate" : "wrap";
}

} // namespace syntonon
