// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/held_word.h"

#include "core/base/number_text.h"

#include <charconv>
#include <cmath>
#include <cstdio>
#include <fmt/format.h>
#include <string>

namespace syntonon {
namespace {

constexpr const char* way_out = "say which processor or which word they are for";

tl::unexpected<Problem> refuse_cell(const WrittenNumber& cell, const std::string& reason,
                                    const char* way = way_out) {
    return refuse(fmt::format("line {}", cell.line), fmt::format("“{}” {}", cell.text, reason),
                  way);
}

Expected<double> value_of_pattern(const WrittenNumber& cell, const HeldWord& words) {
    std::uint64_t pattern = 0;
    std::from_chars(cell.text.data() + 2, cell.text.data() + cell.text.size(), pattern, 16);
    const int bits = words.word.bits();
    if (bits < 64 && (pattern >> bits) != 0) {
        return refuse_cell(
            cell, fmt::format("has more than the {} bits of {}", bits, text_of(words.word)));
    }
    const double value = std::ldexp(from_pattern(pattern, words.word), words.shift);
    return std::isfinite(value) ? Expected<double>(value) : refuse_cell(cell, "is not finite");
}

} // namespace

HeldWord held_word(const Arithmetic& how) {
    return {how.coefficient, how.shift};
}

std::optional<HeldWord> held_word_said(std::string_view text) {
    if (const auto at = text.find("IEEE 754, "); at != std::string_view::npos) {
        text.remove_prefix(at + std::string_view("IEEE 754, ").size());
    }
    if (const auto word = word_from_text(trimmed(text))) {
        return HeldWord{*word};
    }
    const auto at = text.find("two's complement, ");
    if (at == std::string_view::npos) {
        return std::nullopt;
    }
    int bits = 0, power = 0;
    const std::string line(text.substr(at));
    if (std::sscanf(line.c_str(), "two's complement, %d bits; value = word times 2^%d", &bits,
                    &power)
        != 2) {
        return std::nullopt;
    }
    // The place of the point is the shift's business.
    const Word word = Word::fixed(1, bits - 1);
    return check(word) ? std::optional(HeldWord{word, power + bits - 1}) : std::nullopt;
}

Expected<double> value_of(const WrittenNumber& cell, const std::optional<HeldWord>& words) {
    if (cell.is_word()) {
        return words ? value_of_pattern(cell, *words)
                     : refuse_cell(cell, "is a word whose format is not said");
    }
    const auto value = number_from_text(cell.text);
    if (!value || !std::isfinite(*value)) {
        return refuse_cell(cell, "is not a finite number", "give one");
    }
    if (!words || !words->word.is_fixed() || *value != std::floor(*value)) {
        return *value;
    }
    const double most = std::ldexp(1.0, words->word.bits() - 1);
    if (!(*value >= -most && *value < most)) {
        return refuse_cell(cell, fmt::format("is beyond the {} bits of {}", words->word.bits(),
                                             text_of(words->word)));
    }
    return std::ldexp(*value, words->shift - words->word.fraction_bits);
}

} // namespace syntonon
