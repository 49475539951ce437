// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/taps_text.h"

#include "core/base/file.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
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

Expected<void> add_numbers(std::string_view line, bool comma_parts, std::vector<double>& taps) {
    const std::string_view parting = comma_parts ? " \t;,\r" : " \t;\r";
    while (true) {
        line.remove_prefix(std::min(line.find_first_not_of(parting), line.size()));
        if (line.empty()) {
            return {};
        }
        const std::string_view word = line.substr(0, line.find_first_of(parting));
        std::string with_point(word);
        std::ranges::replace(with_point, ',', '.');
        const auto number = number_from_text(with_point);
        if (!number || !std::isfinite(*number)) {
            return refuse("", fmt::format("“{}” is not a number", word), "write numbers only");
        }
        taps.push_back(*number);
        line.remove_prefix(word.size());
    }
}

} // namespace

Expected<std::vector<double>> taps_from_text(std::string_view text) {
    const auto lines = lines_of(text);
    const bool comma_parts = !has_decimal_commas(lines);
    std::vector<double> taps;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (auto ok = add_numbers(lines[i], comma_parts, taps); !ok) {
            return tl::unexpected(within(fmt::format("line {}", i + 1), ok.error()));
        }
    }
    if (taps.empty()) {
        return refuse("", "the text holds no taps", "give numbers, one a line");
    }
    return taps;
}

Expected<std::vector<double>> taps_from_file(const std::filesystem::path& path) {
    const auto bytes = read_file(path, most_taps_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto taps = taps_from_text(*bytes);
    return taps ? taps : tl::unexpected(in_file(path.string(), taps.error()));
}

std::string taps_text(std::span<const double> taps) {
    std::string text;
    for (const double tap : taps) {
        text += shortest_text(tap) + "\n";
    }
    return text;
}

} // namespace syntonon
