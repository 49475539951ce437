// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficient_writers.h"
#include "core/exchange/delivered_channel.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::string array_text(const std::string& name, const CoefficientRows& rows,
                       const CoefficientLayout& layout) {
    std::string text = fmt::format("static const {} {}[{}][{}] = {{\n", key_of(layout.number), name,
                                   rows.size(), layout.order.size());
    for (const auto& row : rows) {
        text += fmt::format("    {{{}}},\n", fmt::join(row, ", "));
    }
    return text + "};\n";
}

} // namespace

std::string c_header_text(const CoefficientSet& set, const CoefficientLayout& layout,
                          const CoefficientRows& rows, const std::vector<std::string>& taps) {
    std::string text;
    for (const std::string& line : head_lines(set, layout)) {
        text += (text.empty() ? "/* " : " * ") + line + "\n";
    }
    text += " */\n";
    const std::string name = source_name(set);
    std::string upper = name;
    std::ranges::transform(upper, upper.begin(), [](char c) {
        return static_cast<char>(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
    });
    text += fmt::format(
        "#ifndef {0}_COEFFICIENTS_H\n#define {0}_COEFFICIENTS_H\n\n#define {0}_SECTIONS {1}\n\n",
        upper, rows.size());
    if (rows.empty()) {
        text += "/* There is no section; C has no empty arrays, so this one passes the signal "
                "unchanged. */\n";
        text += array_text(name, *coefficient_rows(Cascade{{Biquad{}}}, layout), layout);
    } else {
        text += array_text(name, rows, layout);
    }
    if (set.delay_samples > 0) {
        text += fmt::format("\n#define {}_DELAY_SAMPLES {}\n", upper, set.delay_samples);
    }
    if (!taps.empty()) {
        text += fmt::format(
            "\n#define {}_TAPS {}\n\nstatic const {} {}_taps[{}] = {{\n    {},\n}};\n", upper,
            taps.size(), key_of(layout.number), name, taps.size(), fmt::join(taps, ",\n    "));
    }
    return text + "\n#endif\n";
}

} // namespace syntonon
