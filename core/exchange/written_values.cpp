// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written_values.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double no_word_from = 256; // whole numbers beyond are words

// A float's pattern of 1 tells what the others are.
bool has_float_one(const WrittenNumbers& text) {
    return std::ranges::any_of(text.rows, [](const WrittenRow& row) {
        return std::ranges::any_of(
            row.cells, [](const WrittenNumber& number) { return number.text == "0x3f800000"; });
    });
}

// A first column that counts, or stands decimal before hexadecimal words, is no word itself.
bool begin_with_index(const std::vector<WrittenRow>& rows) {
    const auto is_alone = [](const WrittenRow& row) {
        return row.cells.size() > 1 && !row.cells[0].is_word()
               && std::ranges::all_of(row.cells.begin() + 1, row.cells.end(),
                                      &WrittenNumber::is_word);
    };
    if (!rows.empty() && std::ranges::all_of(rows, is_alone)) {
        return true;
    }
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const auto& cells = rows[i].cells;
        const auto first = number_from_text(rows[0].cells[0].text);
        if (rows.size() < 2 || cells.size() < 2 || !first || (*first != 0 && *first != 1)
            || number_from_text(cells[0].text) != *first + static_cast<double>(i)) {
            return false;
        }
    }
    return rows.size() > 1;
}

} // namespace

std::string said_or_empty(const WrittenNumbers& text, std::string_view key) {
    const auto found = text.said.find(key);
    return found == text.said.end() ? std::string() : found->second;
}

WrittenValues::WrittenValues(const WrittenNumbers& text, const CoefficientReading& reading)
    : reading_(reading), said_(held_word_said(said_or_empty(text, "words"))),
      is_float_(said_or_empty(text, "number") == "float") {
    if (!said_ && has_float_one(text)) {
        said_ = HeldWord{Word::float32()};
    }
}

Expected<std::vector<ValueRow>> WrittenValues::of(const std::vector<WrittenRow>& rows,
                                                  bool are_taps) {
    std::vector<ValueRow> made;
    const bool has_index = begin_with_index(rows);
    for (const WrittenRow& row : rows) {
        words_ = format_of(row, are_taps);
        made.push_back({row.name, {}, row.cells.empty() ? 0 : row.cells[0].line});
        for (const WrittenNumber& cell : row.cells) {
            const bool is_index = has_index && &cell == row.cells.data();
            const auto value = is_index ? value_of(cell, std::nullopt)
                                        : value_of(cell, words_ ? words_ : whole(cell));
            if (!value) {
                return tl::unexpected(value.error());
            }
            made.back().values.push_back(is_float_ ? static_cast<float>(*value) : *value);
            all_whole_ = all_whole_ && !cell.is_word() && *value == std::floor(*value);
            greatest_ = std::max(greatest_, std::abs(*value));
        }
    }
    return made;
}

Expected<void> WrittenValues::check_scale(bool has_a0) const {
    if (has_a0 || words_) {
        return {};
    }
    if (without_format_) {
        return tl::unexpected(value_of(*without_format_, std::nullopt).error());
    }
    if (all_whole_ && greatest_ >= no_word_from) {
        return refuse(
            "", fmt::format("whole numbers up to {} are words whose format is not said", greatest_),
            "say which processor or which word they are for; float64 where they are "
            "what they look like");
    }
    return {};
}

std::optional<HeldWord> WrittenValues::format_of(const WrittenRow& row, bool are_taps) const {
    const auto& asked = are_taps && reading_.tap_words ? reading_.tap_words : reading_.words;
    const auto own = held_word_said(row.words);
    return asked ? asked : own ? own : said_;
}

// As whole numbers: a0 scales them.
std::optional<HeldWord> WrittenValues::whole(const WrittenNumber& cell) {
    const auto bits = static_cast<int>(4 * (cell.text.size() - 2));
    if (!cell.is_word() || bits < least_word_bits || bits > most_word_bits) {
        return std::nullopt;
    }
    without_format_ = without_format_ ? without_format_ : std::optional(cell);
    return HeldWord{Word::fixed(bits, 0)};
}

} // namespace syntonon
