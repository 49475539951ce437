// The checked requirements, each with its margin and worst frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/goal.h"
#include "core/goal/prediction.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

enum class Outcome {
    met,
    not_met,
    undecided // cannot be checked; never counts as met
};

// One line of a verdict. Numbers are finite; where one does not exist it is absent.
struct Finding {
    std::string requirement;        // "corridor 40–250 Hz", "stability"
    std::optional<double> value;    // what was found, in `unit`: a corridor's worst deviation
    std::optional<double> limit;    // what it is held against
    std::optional<double> margin;   // room left; negative when not met
    std::string unit;               // "dB" or empty
    std::optional<double> worst_hz; // where the margin is least
    Outcome outcome = Outcome::undecided;
    std::string reason; // why it is undecided, with the way out

    bool operator==(const Finding&) const = default;
};

using Verdict = std::vector<Finding>;

bool is_met(const Verdict& verdict); // all findings are

// Checks the prediction against the goal: a finding for each corridor range, then stability of the
// chain, which every channel must have. `goal` may be null.
//
// Between telling frequencies (see Prediction) every extremum of the deviation that could be the
// worst is refined by golden-section search (Kiefer, Proc. AMS 4, 1953) until its level is known
// to 1e-9 dB.
Verdict judge(const Goal* goal, const Prediction& prediction);

// The verdict of a chain that could not be designed: the same lines, undecided for `why`.
Verdict undecided_verdict(const Goal* goal, const std::string& why);

} // namespace syntonon
