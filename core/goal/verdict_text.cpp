// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/verdict_text.h"

#include "core/base/problem.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::string number_or_nothing(const std::optional<double>& value, const std::string& unit) {
    // What is left of 0 after rounding is 0.
    return value ? fmt::format("{:.6g}{}", std::abs(*value) < 1e-12 ? 0.0 : *value, unit) : "none";
}

} // namespace

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
