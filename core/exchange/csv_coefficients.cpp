// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficient_writers.h"

#include <fmt/format.h>

namespace syntonon {

std::string csv_text(const CoefficientSet& set, const CoefficientLayout& layout,
                     const CoefficientRows& rows, const std::vector<std::string>& taps) {
    std::string text;
    for (const std::string& line : head_lines(set, layout)) {
        text += "# " + line + "\n";
    }
    std::vector<std::string> titles{"section"};
    for (const Term term : layout.order) {
        titles.emplace_back(key_of(term));
    }
    text += fmt::format("{}", fmt::join(titles, ",")) + "\n";
    for (std::size_t i = 0; i < rows.size(); ++i) {
        text += fmt::format("{},{}\n", i + 1, fmt::join(rows[i], ","));
    }
    text += taps.empty() ? "" : "tap,value\n";
    for (std::size_t k = 0; k < taps.size(); ++k) {
        text += fmt::format("{},{}\n", k, taps[k]);
    }
    return text;
}

} // namespace syntonon
