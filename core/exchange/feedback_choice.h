// Which sign what is fed back carries, and which order rows have, where nothing says so.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/found_coefficients.h"

#include <functional>
#include <optional>
#include <vector>

namespace syntonon {

// One of the things that a text may be, with the a's subtracted or added.
struct WayToRead {
    std::function<Expected<std::vector<Coefficients>>(FeedbackSign)> build;
    std::vector<Term> order = {}; // of a table
};

// Takes the first way whose poles all lie within the circle with a sign that is open, else the
// first; fills in fractions, sign, convention and notes. Refused where none can be built, beyond
// order 200, and with more than 1000 sections.
Expected<void> choose(const std::vector<WayToRead>& ways, std::optional<FeedbackSign> said,
                      FoundCoefficients& found);

// The poles of all fractions with either sign.
SignJudgement judged_sign(const std::vector<Coefficients>& fractions, bool is_said);

} // namespace syntonon
