// Reading coefficient files back, going by their own heads.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/number_text.h"
#include "core/exchange/coefficients.h"
#include "core/study/json_reader.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace syntonon {
namespace {

using Head = std::map<std::string, std::string, std::less<>>;
using Row = std::vector<double>;

struct Lines {
    std::string_view rest;
    std::size_t number = 0;

    std::optional<std::string_view> next() {
        if (rest.empty()) {
            return std::nullopt;
        }
        const auto end = std::min(rest.find('\n'), rest.size());
        const std::string_view line = trimmed(rest.substr(0, end));
        rest.remove_prefix(std::min(end + 1, rest.size()));
        ++number;
        return line;
    }
};

void take_head_line(std::string_view line, Head& head) {
    const auto colon = line.find(": ");
    if (colon != std::string_view::npos) {
        head.emplace(trimmed(line.substr(0, colon)), trimmed(line.substr(colon + 2)));
    }
}

template <class T>
Expected<T> choice(const Head& head, std::string_view key,
                   std::optional<T> (*from_key)(std::string_view)) {
    const auto found = head.find(key);
    if (found == head.end()) {
        return refuse(std::string(key), "is missing in the file's head", "export the file again");
    }
    const auto value = from_key(found->second);
    if (!value) {
        return refuse(std::string(key), fmt::format("“{}” is not known", found->second),
                      "export the file again");
    }
    return *value;
}

Expected<ReadCoefficients> from_head(const Head& head, FileFormat format) {
    ReadCoefficients read;
    read.layout.format = format;
    const auto number = choice(head, "number", number_type_from_key);
    const auto feedback = choice(head, "feedback", feedback_sign_from_key);
    const auto normalisation = choice(head, "normalisation", normalisation_from_key);
    const auto rate = choice(head, "sample_rate_hz", number_from_text);
    const auto digits = choice(head, "digits", number_from_text);
    for (const Problem* problem :
         {number ? nullptr : &number.error(), feedback ? nullptr : &feedback.error(),
          normalisation ? nullptr : &normalisation.error(), rate ? nullptr : &rate.error(),
          digits ? nullptr : &digits.error()}) {
        if (problem != nullptr) {
            return tl::unexpected(*problem);
        }
    }
    const auto order_line = head.find("order");
    auto order = order_from_text(order_line != head.end() ? order_line->second : "");
    if (!order) {
        return tl::unexpected(order.error());
    }
    read.layout.number = *number;
    read.layout.feedback = *feedback;
    read.layout.normalisation = *normalisation;
    read.layout.digits = *digits >= 1 && *digits <= 17 ? static_cast<int>(*digits) : 0;
    read.layout.order = std::move(*order);
    if (auto ok = check(read.layout); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto text_of = [&](std::string_view key) {
        const auto found = head.find(key);
        return found != head.end() ? found->second : std::string();
    };
    read.set.study = text_of("study");
    read.set.channel = text_of("channel");
    read.set.sample_rate_hz = *rate;
    return read;
}

bool is_finite(const Biquad& section) {
    return std::ranges::all_of(
        std::array{section.b0, section.b1, section.b2, section.a1, section.a2},
        [](double coefficient) { return std::isfinite(coefficient); });
}

constexpr auto not_finite = "a coefficient is not finite, or too large for its number type";

// Undoes sign and normalisation.
Biquad section_from(const Row& row, const CoefficientLayout& layout) {
    double b0 = 1, b1 = 0, b2 = 0, a1 = 0, a2 = 0, gain = 1;
    for (std::size_t i = 0; i < row.size(); ++i) {
        switch (layout.order[i]) {
        case Term::b0:
            b0 = row[i];
            break;
        case Term::b1:
            b1 = row[i];
            break;
        case Term::b2:
            b2 = row[i];
            break;
        case Term::a0:
            break; // fixed by the normalisation
        case Term::a1:
            a1 = row[i];
            break;
        case Term::a2:
            a2 = row[i];
            break;
        case Term::gain:
            gain = row[i];
            break;
        }
    }
    const double scale = layout.normalisation == Normalisation::a0_half ? 2 : 1;
    const double sign = layout.feedback == FeedbackSign::added ? -1 : 1;
    return {b0 * gain * scale, b1 * gain * scale, b2 * gain * scale, a1 * sign * scale,
            a2 * sign * scale};
}

// A row's cells, parted by commas or blanks.
std::vector<std::string_view> cells_of(std::string_view line) {
    std::vector<std::string_view> cells;
    const char* between = line.find(',') == std::string_view::npos ? " \t" : ",";
    while (!line.empty()) {
        const auto end = std::min(line.find_first_of(between), line.size());
        if (const std::string_view cell = trimmed(line.substr(0, end));
            !cell.empty() || between[0] == ',') {
            cells.push_back(cell);
        }
        line.remove_prefix(std::min(end + 1, line.size()));
    }
    return cells;
}

// Whether each row may begin with its own number.
enum class Numbered { maybe, never };

Expected<void> take_row(std::string_view line, std::size_t line_number, Numbered numbered,
                        ReadCoefficients& read) {
    std::vector<std::string_view> cells = cells_of(line);
    const std::size_t wanted = read.layout.order.size();
    if (numbered == Numbered::maybe && cells.size() == wanted + 1) {
        cells.erase(cells.begin());
    }
    Row row;
    for (std::string_view cell : cells) {
        if (cell.ends_with('f')) {
            cell.remove_suffix(1);
        }
        const auto value = number_from_text(cell);
        if (!value) {
            return refuse(fmt::format("line {}", line_number),
                          fmt::format("“{}” is not a number", cell), "export the file again");
        }
        // A float's digits stand for that float, not for the double nearest to them.
        row.push_back(read.layout.number == NumberType::real32 ? static_cast<float>(*value)
                                                               : *value);
    }
    if (row.size() != wanted) {
        return refuse(fmt::format("line {}", line_number),
                      fmt::format("{} numbers where the order names {}", row.size(), wanted),
                      "export the file again");
    }
    const Biquad section = section_from(row, read.layout);
    if (!is_finite(section)) {
        return refuse(fmt::format("line {}", line_number), not_finite, "export the file again");
    }
    read.set.cascade.sections.push_back(section);
    return {};
}

Expected<void> take_tap(std::string_view cell, std::size_t line_number, ReadCoefficients& read) {
    if (cell.ends_with('f')) {
        cell.remove_suffix(1);
    }
    const auto value = number_from_text(cell);
    const double tap = !value                                     ? 0
                       : read.layout.number == NumberType::real32 ? static_cast<float>(*value)
                                                                  : *value;
    if (!value || !std::isfinite(tap)) {
        return refuse(fmt::format("line {}", line_number),
                      fmt::format("“{}” is not a number", cell), "export the file again");
    }
    read.set.taps.push_back(tap);
    return {};
}

// A number of the head that need not be there: 0.
Expected<double> count_in(const Head& head, std::string_view key) {
    return head.contains(key) ? choice(head, key, number_from_text) : Expected<double>(0);
}

Expected<void> check_taps_and_delay(const Head& head, ReadCoefficients& read) {
    constexpr double most = 1 << 30;
    const auto taps = count_in(head, "taps"), delay = count_in(head, "delay_samples");
    if (!taps || !delay) {
        return tl::unexpected(!taps ? taps.error() : delay.error());
    }
    if (static_cast<double>(read.set.taps.size()) != *taps) {
        return refuse(
            "taps", fmt::format("the head says {}, the file holds {}", *taps, read.set.taps.size()),
            "the file may have been cut off; export it again");
    }
    if (!(*delay >= 0 && *delay <= most && *delay == std::floor(*delay))) {
        return refuse("delay_samples", fmt::format("{} is no number of samples", *delay),
                      "export the file again");
    }
    read.set.delay_samples = static_cast<std::size_t>(*delay);
    return {};
}

Expected<void> check_count(const Head& head, ReadCoefficients& read) {
    if (auto ok = check_taps_and_delay(head, read); !ok) {
        return ok;
    }
    const auto sections = choice(head, "sections", number_from_text);
    if (!sections) {
        return tl::unexpected(sections.error());
    }
    auto& got = read.set.cascade.sections;
    if (*sections == 0 && read.layout.format == FileFormat::c_header && got.size() == 1) {
        got.clear(); // the placeholder that C needs
    }
    if (static_cast<double>(got.size()) != *sections) {
        return refuse("sections",
                      fmt::format("the head says {}, the file holds {}", *sections, got.size()),
                      "the file may have been cut off; export it again");
    }
    return {};
}

Expected<ReadCoefficients> read_csv(std::string_view text) {
    Head head;
    Lines lines{text};
    std::optional<std::string_view> line;
    while ((line = lines.next()) && line->starts_with('#')) {
        take_head_line(trimmed(line->substr(1)), head);
    }
    // Without titles it is plain text.
    const bool has_titles = line && !line->empty() && !cells_of(*line).empty()
                            && !number_from_text(cells_of(*line).front());
    auto read = from_head(head, has_titles ? FileFormat::csv : FileFormat::text);
    if (!read) {
        return read;
    }
    bool are_taps = false;
    for (line = has_titles ? lines.next() : line; line; line = lines.next()) {
        if (line->empty()) {
            continue;
        }
        if (*line == "tap,value" || *line == "value" || *line == "# taps") {
            are_taps = true;
            continue;
        }
        if (line->starts_with('#')) {
            continue;
        }
        const std::vector<std::string_view> cells = cells_of(*line);
        const auto ok = are_taps ? take_tap(cells.back(), lines.number, *read)
                                 : take_row(*line, lines.number, Numbered::maybe, *read);
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    if (auto ok = check_count(head, *read); !ok) {
        return tl::unexpected(ok.error());
    }
    return read;
}

Expected<ReadCoefficients> read_c_header(std::string_view text) {
    Head head;
    Lines lines{text};
    std::optional<std::string_view> line;
    while ((line = lines.next()) && *line != "*/") {
        take_head_line(trimmed(line->substr(
                           std::min<std::size_t>(line->find_first_not_of("/* "), line->size()))),
                       head);
    }
    auto read = from_head(head, FileFormat::c_header);
    if (!read) {
        return read;
    }
    bool are_taps = false;
    while ((line = lines.next())) {
        if (line->starts_with("static const ")) {
            // One dimension: the sections' array has two, whatever the channel is called.
            are_taps = std::ranges::count(*line, '[') == 1;
        }
        if (are_taps && line->ends_with(',')) {
            if (auto ok = take_tap(line->substr(0, line->size() - 1), lines.number, *read); !ok) {
                return tl::unexpected(ok.error());
            }
        }
        if (!line->starts_with('{') || !line->ends_with("},")) {
            continue;
        }
        if (auto ok =
                take_row(line->substr(1, line->size() - 3), lines.number, Numbered::never, *read);
            !ok) {
            return tl::unexpected(ok.error());
        }
    }
    if (auto ok = check_count(head, *read); !ok) {
        return tl::unexpected(ok.error());
    }
    return read;
}

Expected<ReadCoefficients> read_json(std::string_view text) {
    const auto json = checked_json(text);
    if (!json) {
        return tl::unexpected(json.error());
    }
    ReadLog log;
    ObjectReader object(*json, "", log);
    Head head;
    for (const char* key : {"study", "channel", "number", "feedback", "normalisation", "order"}) {
        head[key] = object.text(key);
    }
    head["sample_rate_hz"] = shortest_text(object.number("sample_rate_hz"));
    head["digits"] = shortest_text(object.number("digits"));
    if (log.problem) {
        return tl::unexpected(*log.problem);
    }
    auto read = from_head(head, FileFormat::json);
    if (!read) {
        return read;
    }
    object.each("sections", [&](ObjectReader section) {
        Row row;
        for (const Term term : read->layout.order) {
            const double value = section.number(key_of(term));
            row.push_back(read->layout.number == NumberType::real32 ? static_cast<float>(value)
                                                                    : value);
        }
        read->set.cascade.sections.push_back(section_from(row, read->layout));
        if (!is_finite(read->set.cascade.sections.back())) {
            section.fail(key_of(read->layout.order.front()), not_finite, "export the file again");
        }
    });
    read->set.taps = object.numbers("taps");
    head["taps"] = fmt::format("{}", read->set.taps.size());
    head["delay_samples"] = shortest_text(object.number_or("delay_samples", 0));
    if (read->layout.number == NumberType::real32) {
        std::ranges::transform(read->set.taps, read->set.taps.begin(),
                               [](double tap) { return static_cast<float>(tap); });
    }
    if (log.problem) {
        return tl::unexpected(*log.problem);
    }
    if (auto ok = check_taps_and_delay(head, *read); !ok) {
        return tl::unexpected(ok.error());
    }
    return read;
}

} // namespace

Expected<ReadCoefficients> read_coefficients(std::string_view text) {
    const std::string_view start = trimmed(text.substr(0, 4096));
    if (start.starts_with("# Syntonon coefficients")) {
        return read_csv(text);
    }
    if (start.starts_with("/* Syntonon coefficients")) {
        return read_c_header(text);
    }
    if (start.starts_with('{')) {
        return read_json(text);
    }
    return refuse("line 1", "this is not a coefficient file of this program",
                  "choose a file that it wrote");
}

} // namespace syntonon
