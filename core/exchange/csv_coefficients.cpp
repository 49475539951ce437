// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficient_writers.h"

#include <fmt/format.h>

namespace syntonon {

namespace {

std::string commented_head(const CoefficientSet& set, const CoefficientLayout& layout) {
    std::string text;
    for (const std::string& line : head_lines(set, layout)) {
        text += "# " + line + "\n";
    }
    return text;
}

std::string rows_text(const CoefficientRows& rows, bool indexed, const char* between) {
    std::string text;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        text += indexed ? fmt::format("{}{}", i + 1, between) : "";
        text += fmt::format("{}\n", fmt::join(rows[i], between));
    }
    return text;
}

std::string tap_rows(const std::vector<std::string>& taps, bool indexed, const char* between) {
    std::string text;
    for (std::size_t k = 0; k < taps.size(); ++k) {
        text += indexed ? fmt::format("{}{}", k, between) : "";
        text += taps[k] + "\n";
    }
    return text;
}

} // namespace

std::string csv_text(const CoefficientSet& set, const CoefficientLayout& layout,
                     const CoefficientRows& rows, const std::vector<std::string>& taps,
                     bool indexed) {
    std::vector<std::string> titles;
    if (indexed) {
        titles.emplace_back("section");
    }
    for (const Term term : layout.order) {
        titles.emplace_back(key_of(term));
    }
    std::string text = commented_head(set, layout) + fmt::format("{}\n", fmt::join(titles, ","));
    text += rows_text(rows, indexed, ",");
    text += taps.empty() ? "" : indexed ? "tap,value\n" : "value\n";
    return text + tap_rows(taps, indexed, ",");
}

std::string plain_text(const CoefficientSet& set, const CoefficientLayout& layout,
                       const CoefficientRows& rows, const std::vector<std::string>& taps,
                       bool indexed) {
    std::string text = commented_head(set, layout) + rows_text(rows, indexed, " ");
    text += taps.empty() ? "" : "# taps\n";
    return text + tap_rows(taps, indexed, " ");
}

} // namespace syntonon
