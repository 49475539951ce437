// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/target_text.h"

#include "core/base/file.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <vector>

namespace syntonon {
namespace {

constexpr std::size_t most_target_bytes = 4'000'000;
constexpr std::array between_words = {"log", "linear", "gap"};

std::vector<std::string_view> columns_of(std::string_view line) {
    std::vector<std::string_view> columns;
    const auto is_parting = [](char c) { return c == ',' || c == ';' || c == '\t' || c == ' '; };
    std::size_t at = 0;
    while (at < line.size()) {
        while (at < line.size() && is_parting(line[at])) {
            ++at;
        }
        std::size_t end = at;
        while (end < line.size() && !is_parting(line[end])) {
            ++end;
        }
        if (end > at) {
            columns.push_back(line.substr(at, end - at));
        }
        at = end;
    }
    return columns;
}

Expected<TargetPoint> point_from(const std::vector<std::string_view>& columns) {
    const auto hz = number_from_text(columns[0]);
    const auto value = columns.size() > 1 ? number_from_text(columns[1]) : std::nullopt;
    if (!hz || !value) {
        return refuse("", "is no frequency and level", "write for example: 1000, -3");
    }
    TargetPoint point{*hz, *value, {}};
    if (columns.size() > 2) {
        const auto word = std::ranges::find(between_words, columns[2]);
        if (word == between_words.end() || columns.size() > 3) {
            return refuse("",
                          fmt::format("“{}” says nothing about the way to the next point",
                                      columns[columns.size() > 3 ? 3 : 2]),
                          "write log, linear or gap after the level, or nothing");
        }
        point.after = static_cast<Between>(word - between_words.begin());
    }
    return point;
}

} // namespace

std::string target_text(const TargetLine& line, std::string_view name) {
    std::string text = fmt::format("# target: {}\nfrequency_hz, level_db, after\n", name);
    for (const TargetPoint& point : line.points) {
        const auto after = static_cast<std::size_t>(point.after.value_or(line.between));
        text += fmt::format("{}, {}, {}\n", shortest_text(point.frequency_hz),
                            shortest_text(point.value), between_words.at(after));
    }
    return text;
}

Expected<TargetLine> target_from_text(std::string_view text) {
    TargetLine line;
    std::size_t number = 0;
    std::vector<std::size_t> numbers;
    while (!text.empty()) {
        const auto end = std::min(text.find('\n'), text.size());
        const std::string_view row = trimmed(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
        ++number;
        const auto columns = columns_of(row);
        const bool titles =
            line.points.empty() && !columns.empty() && !number_from_text(columns[0]);
        if (columns.empty() || row.front() == '#' || titles) {
            continue;
        }
        auto point = point_from(columns);
        if (!point) {
            return tl::unexpected(within(fmt::format("line {}", number), point.error()));
        }
        line.points.push_back(std::move(*point));
        numbers.push_back(number);
    }
    if (line.points.empty()) {
        return refuse("", "the file holds no target points",
                      "give lines of frequency and level, for example: 1000, -3");
    }
    if (auto ok = check(line, "level_db"); !ok) {
        // "points[3].level_db" is of no help in a text; its line is.
        const std::size_t at = std::stoul(ok.error().place.substr(7));
        return refuse(fmt::format("line {}", numbers.at(at)), ok.error().reason,
                      ok.error().way_out);
    }
    return line;
}

Expected<TargetLine> target_from_file(const std::filesystem::path& path) {
    const auto bytes = read_file(path, most_target_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto line = target_from_text(*bytes);
    return line ? line : tl::unexpected(in_file(path.string(), line.error()));
}

} // namespace syntonon
