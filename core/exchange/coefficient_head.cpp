// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/number_text.h"
#include "core/exchange/coefficient_writers.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

// One line, and nothing that could end the comment it stands in.
std::string harmless(std::string text) {
    for (auto at = text.find("*/"); at != std::string::npos; at = text.find("*/")) {
        text.replace(at, 2, "* /");
    }
    std::ranges::replace_if(
        text, [](unsigned char c) { return c < ' '; }, ' ');
    return text;
}

} // namespace

std::string_view meaning_of(FeedbackSign sign) {
    return sign == FeedbackSign::subtracted
               ? "y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] - a1 y[n-1] - a2 y[n-2]"
               : "y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] + a1 y[n-1] + a2 y[n-2]";
}

std::string_view meaning_of(Normalisation normalisation) {
    switch (normalisation) {
    case Normalisation::a0_one:
        return "each section is divided by its a0";
    case Normalisation::b0_one:
        return "b0 = 1 and a0 = 1; multiply each section's output by its gain";
    case Normalisation::a0_half:
        return "a0 = 1/2: double each section's result";
    }
    return "";
}

std::vector<std::string> head_lines(const CoefficientSet& set, const CoefficientLayout& layout) {
    std::vector<std::string> lines{
        "Syntonon coefficients",
        "study: " + harmless(set.study),
        "channel: " + harmless(set.channel),
        fmt::format("sample_rate_hz: {}", set.sample_rate_hz),
        fmt::format("sections: {}", set.cascade.sections.size()),
        fmt::format("number: {}", key_of(layout.number)),
        fmt::format("feedback: {}", key_of(layout.feedback)),
        fmt::format("  {}", meaning_of(layout.feedback)),
        fmt::format("normalisation: {}", key_of(layout.normalisation)),
        fmt::format("  {}", meaning_of(layout.normalisation)),
        fmt::format("digits: {}", layout.digits),
        "order: " + order_text(layout.order),
    };
    for (const auto& [key, value] : set.about) {
        lines.push_back(fmt::format("{}: {}", key, harmless(value)));
    }
    if (set.delay_samples > 0) {
        lines.push_back(fmt::format("delay_samples: {}", set.delay_samples));
        lines.emplace_back("  whole samples, before or behind the rest");
    }
    if (!set.taps.empty()) {
        lines.push_back(fmt::format("taps: {}", set.taps.size()));
        lines.emplace_back("  y[n] = sum of tap k times x[n-k], before or behind the sections");
    }
    return lines;
}

std::string slug(std::string_view name, char joint) {
    std::string text;
    for (const char c : lower_case(name)) {
        if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9')) {
            text += c;
        } else if (!text.empty() && text.back() != joint) {
            text += joint;
        }
    }
    while (!text.empty() && text.back() == joint) {
        text.pop_back();
    }
    return text.empty() ? "unnamed" : text;
}

} // namespace syntonon
