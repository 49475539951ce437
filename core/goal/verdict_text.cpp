// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/verdict_text.h"

#include "core/base/number_text.h"
#include "core/base/problem.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::string number_or_nothing(const std::optional<double>& value, const std::string& unit) {
    // What is left of 0 after rounding is 0.
    return value ? fmt::format("{:.6g}{}", std::abs(*value) < 1e-12 ? 0.0 : *value, unit) : "none";
}

// Lower is worse.
double rank_of(const Finding& finding) {
    const double margin = finding.margin.value_or(0);
    if (finding.outcome != Outcome::met) {
        return finding.unit == "dB" ? margin - 1000 : -1000;
    }
    return finding.unit == "dB" ? margin : 1e6;
}

} // namespace

const Finding* worst_of(const Verdict& verdict) {
    const auto worst = std::ranges::min_element(verdict, std::less<>(), rank_of);
    return worst == verdict.end() ? nullptr : &*worst;
}

std::string margin_text(const Finding& finding) {
    if (finding.outcome == Outcome::undecided || !finding.margin) {
        return finding.outcome == Outcome::met ? "met" : "undecided";
    }
    const bool is_met = finding.outcome == Outcome::met;
    const std::string unit = finding.unit.empty() ? "" : " " + finding.unit;
    std::string text =
        text_with_digits(std::abs(*finding.margin), 3) + unit + (is_met ? " to spare" : " missed");
    if (finding.worst_hz) {
        text += " at " + frequency_text(*finding.worst_hz);
    }
    return text;
}

std::string line_of(std::string_view channel, const Finding& finding) {
    // An id may hold a line's end, which must not make a verdict of its own.
    const std::string start = one_line(fmt::format("{}: {}: ", channel, finding.requirement));
    if (finding.outcome == Outcome::undecided) {
        return start + "UNDECIDED: " + finding.reason;
    }
    const std::string unit = finding.unit.empty() ? "" : " " + finding.unit;
    std::string line = start + (finding.outcome == Outcome::met ? "met" : "NOT MET");
    line += fmt::format(", value {}, limit {}, margin {}", number_or_nothing(finding.value, unit),
                        number_or_nothing(finding.limit, unit),
                        number_or_nothing(finding.margin, unit));
    if (finding.worst_hz) {
        line += fmt::format(" at {:.6g} Hz", *finding.worst_hz);
    }
    if (!finding.reason.empty()) {
        line += "; " + finding.reason;
    }
    return line;
}

} // namespace syntonon
