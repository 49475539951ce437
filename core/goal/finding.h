// One line of a verdict.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>
#include <utility>

namespace syntonon {

// What a finding is about, and so on which lane it can be seen.
enum class Quantity { level, phase, delay, other };

enum class Outcome {
    met,
    not_met,
    undecided // cannot be checked; never counts as met
};

// One line of a verdict. Numbers are finite; where one does not exist it is absent.
struct Finding {
    std::string requirement; // "corridor 40–250 Hz", "stability"
    std::string place;       // in the goal: "corridor[1]", "requirements[0]"; or empty
    Quantity quantity = Quantity::other;
    std::optional<double> value;    // what was found, in `unit`: a corridor's worst deviation
    std::optional<double> limit;    // what it is held against
    std::optional<double> margin;   // room left; negative when not met
    std::string unit;               // "dB", "Hz", "samples" … or empty
    std::optional<double> worst_hz; // where the margin is least
    Outcome outcome = Outcome::undecided;
    std::string reason; // why it is undecided, or cannot be met, with the way out

    bool operator==(const Finding&) const = default;
};

inline Finding undecided(std::string requirement, std::string reason) {
    Finding finding;
    finding.requirement = std::move(requirement);
    finding.reason = std::move(reason);
    return finding;
}

} // namespace syntonon
