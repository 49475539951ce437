// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/taps_text.h"

#include "core/base/file.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::size_t most_taps_bytes = 64'000'000;

std::vector<std::string_view> lines_of(std::string_view text) {
    std::vector<std::string_view> lines;
    while (!text.empty()) {
        const auto end = std::min(text.find('\n'), text.size());
        const std::string_view line = text.substr(0, end);
        lines.push_back(trimmed(line.substr(0, line.find('#'))));
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return lines;
}

// A number like "-0,25e-3" and nothing else.
bool is_one_number_with_comma(std::string_view line) {
    return std::ranges::count(line, ',') == 1 && line.front() != ',' && line.back() != ','
           && line.find_first_of(" \t;") == std::string_view::npos;
}

bool has_decimal_commas(const std::vector<std::string_view>& lines) {
    return std::ranges::all_of(lines, [](std::string_view line) {
        return line.find('.') == std::string_view::npos
               && (line.empty() || line.find(',') == std::string_view::npos
                   || is_one_number_with_comma(line));
    });
}

// What stands between the braces of a C array, in the same lines; comments blanked.
std::string between_braces(std::string_view text) {
    std::string inside(text.size(), ' ');
    const auto first = text.find('{'), last = text.rfind('}');
    const std::size_t end = last == std::string_view::npos ? text.size() : last;
    bool to_end_of_line = false, to_star = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const std::string_view two = text.substr(i, 2);
        if (text[i] == '\n') {
            inside[i] = '\n';
            to_end_of_line = false;
        } else if (to_star) {
            to_star = two != "*/";
            i += to_star ? 0 : 1;
        } else if (two == "//") {
            to_end_of_line = true;
        } else if (two == "/*") {
            to_star = true;
            ++i;
        } else if (!to_end_of_line && i > first && i < end && text[i] != '{' && text[i] != '}') {
            inside[i] = text[i];
        }
    }
    return inside;
}

Expected<double> number_of_word(std::string_view word, const std::optional<TextWord>& format) {
    constexpr const char* way_out = "state its bits and how many of them are a fraction";
    if (!format) {
        return refuse("", fmt::format("“{}” is a word whose format is not stated", word), way_out);
    }
    std::uint64_t bits = 0;
    const auto [end, error] = std::from_chars(word.data() + 2, word.data() + word.size(), bits, 16);
    if (error != std::errc() || end != word.data() + word.size()) {
        return refuse("", fmt::format("“{}” is not a word", word), "write hexadecimal digits");
    }
    if (format->bits < 64 && (bits >> format->bits) != 0) {
        return refuse("", fmt::format("“{}” has more than {} bits", word, format->bits), way_out);
    }
    const int unused = 64 - format->bits;
    const auto value = static_cast<std::int64_t>(bits << unused) >> unused; // the sign carried on
    return std::ldexp(static_cast<double>(value), -format->fraction_bits);
}

Expected<double> number_of(std::string_view word, bool is_c,
                           const std::optional<TextWord>& format) {
    if (word.starts_with("0x") || word.starts_with("0X")) {
        return number_of_word(word, format);
    }
    std::string with_point(word);
    std::ranges::replace(with_point, ',', '.');
    if (is_c && with_point.find_first_of("fFlL") == with_point.size() - 1) {
        with_point.pop_back();
    }
    const auto number = number_from_text(with_point);
    if (!number || !std::isfinite(*number)) {
        return refuse("", fmt::format("“{}” is not a number", word), "write numbers only");
    }
    return *number;
}

Expected<std::string> word_of(double tap, const TextWord& format) {
    const double value = std::nearbyint(std::ldexp(tap, format.fraction_bits));
    const double end = std::ldexp(1.0, format.bits - 1);
    if (!(value >= -end && value < end)) {
        return refuse("",
                      fmt::format("{} does not fit: words of {} bits, {} of them a fraction, go "
                                  "from {} to {}",
                                  tap, format.bits, format.fraction_bits,
                                  std::ldexp(-end, -format.fraction_bits),
                                  std::ldexp(end - 1, -format.fraction_bits)),
                      "make fewer of the bits a fraction");
    }
    const auto bits = static_cast<std::uint64_t>(static_cast<std::int64_t>(value))
                      & (~std::uint64_t(0) >> (64 - format.bits));
    return fmt::format("0x{:0{}X}", bits, (format.bits + 3) / 4);
}

// Of a head: names may hold anything, but braces would make an array of the text.
std::string one_line(std::string line) {
    for (char& c : line) {
        c = c == '{' ? '(' : c == '}' ? ')' : static_cast<unsigned char>(c) < 32 ? ' ' : c;
    }
    return line;
}

struct Writing {
    bool is_c = false, comma_parts = true;
    std::optional<TextWord> words;
};

Expected<std::vector<double>> numbers_of(std::string_view line, const Writing& writing) {
    const std::string_view parting = writing.comma_parts ? " \t;,\r" : " \t;\r";
    std::vector<double> numbers;
    while (true) {
        line.remove_prefix(std::min(line.find_first_not_of(parting), line.size()));
        if (line.empty()) {
            return numbers;
        }
        const std::string_view word = line.substr(0, line.find_first_of(parting));
        const auto number = number_of(word, writing.is_c, writing.words);
        if (!number) {
            return tl::unexpected(number.error());
        }
        numbers.push_back(*number);
        line.remove_prefix(word.size());
    }
}

struct NumbersOfLine {
    std::size_t line; // from 1
    std::vector<double> numbers;
};

bool is_whole(double value) {
    return value == std::floor(value);
}

// Pairs of a counting number and a value. Two taps a line look like that only where all are whole,
// or where there are but two lines that do not count on.
bool are_indexed(const std::vector<NumbersOfLine>& rows) {
    const auto is_pair = [](const NumbersOfLine& row) {
        return row.numbers.size() == 2 && is_whole(row.numbers[0]);
    };
    if (rows.size() < 2 || (rows.size() == 2 && rows[1].numbers[0] != rows[0].numbers[0] + 1)) {
        return false;
    }
    return std::ranges::all_of(rows, is_pair)
           && (rows[0].numbers[0] == 0 || rows[0].numbers[0] == 1)
           && !std::ranges::all_of(
               rows, [](const NumbersOfLine& row) { return is_whole(row.numbers[1]); });
}

Expected<std::vector<double>> taps_by_index(const std::vector<NumbersOfLine>& rows) {
    std::vector<double> taps;
    for (const NumbersOfLine& row : rows) {
        const double wanted = rows[0].numbers[0] + static_cast<double>(taps.size());
        if (row.numbers[0] != wanted) {
            return refuse(fmt::format("line {}", row.line),
                          fmt::format("index {} stands where {} should", row.numbers[0], wanted),
                          "sort the lines, and give every tap once");
        }
        taps.push_back(row.numbers[1]);
    }
    return taps;
}

} // namespace

Expected<std::vector<double>> taps_from_text(std::string_view text,
                                             const std::optional<TextWord>& words) {
    Writing writing{text.find('{') != std::string_view::npos, true,
                    words ? words : stated_format(text)};
    const std::string inside = writing.is_c ? between_braces(text) : std::string();
    const auto lines = lines_of(writing.is_c ? inside : text);
    writing.comma_parts = writing.is_c || !has_decimal_commas(lines);
    std::vector<NumbersOfLine> rows;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        auto numbers = numbers_of(lines[i], writing);
        if (!numbers) {
            return tl::unexpected(within(fmt::format("line {}", i + 1), numbers.error()));
        }
        if (!numbers->empty()) {
            rows.push_back({i + 1, std::move(*numbers)});
        }
    }
    if (rows.empty()) {
        return refuse("", "the text holds no taps", "give numbers, one a line");
    }
    if (!writing.is_c && are_indexed(rows)) {
        return taps_by_index(rows);
    }
    std::vector<double> taps;
    for (const NumbersOfLine& row : rows) {
        taps.insert(taps.end(), row.numbers.begin(), row.numbers.end());
    }
    return taps;
}

Expected<std::vector<double>> taps_from_file(const std::filesystem::path& path,
                                             const std::optional<TextWord>& words) {
    const auto bytes = read_file(path, most_taps_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto taps = taps_from_text(*bytes, words);
    return taps ? taps : tl::unexpected(in_file(path.string(), taps.error()));
}

std::optional<TextWord> stated_format(std::string_view text) {
    constexpr std::string_view begins = "word: ";
    const auto at = text.find(begins);
    if (at == std::string_view::npos) {
        return std::nullopt;
    }
    const std::string line(text.substr(at, text.find('\n', at) - at));
    TextWord format;
    const int read =
        std::sscanf(line.c_str(), "word: %d bits, %d of them", &format.bits, &format.fraction_bits);
    const bool makes_sense = read == 2 && format.bits >= 2 && format.bits <= 64
                             && std::abs(format.fraction_bits) <= 1024;
    return makes_sense ? std::optional(format) : std::nullopt;
}

Expected<std::string> taps_text(std::span<const double> taps, const TapsWriting& writing) {
    const bool is_c = writing.layout == TapsLayout::c_array;
    const bool has_words = writing.layout == TapsLayout::words;
    std::string text;
    const auto say = [&](const std::string& line) {
        text += (is_c ? "// " : "# ") + one_line(line) + "\n";
    };
    std::ranges::for_each(writing.head, say);
    if (has_words) {
        say(fmt::format("word: {} bits, {} of them a fraction", writing.words.bits,
                        writing.words.fraction_bits));
    }
    text += is_c ? fmt::format("static const double taps[{}] = {{\n", taps.size()) : "";
    for (std::size_t i = 0; i < taps.size(); ++i) {
        if (has_words) {
            const auto word = word_of(taps[i], writing.words);
            if (!word) {
                return tl::unexpected(within(fmt::format("taps[{}]", i), word.error()));
            }
            text += *word;
        } else {
            text += is_c                                    ? "    "
                    : writing.layout == TapsLayout::indexed ? fmt::format("{} ", i)
                                                            : "";
            text += shortest_text(taps[i]) + (is_c ? "," : "");
        }
        text += "\n";
    }
    return text + (is_c ? "};\n" : "");
}

std::string taps_text(std::span<const double> taps) {
    return *taps_text(taps, TapsWriting());
}

} // namespace syntonon
