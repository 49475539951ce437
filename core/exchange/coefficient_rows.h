// Sections as a file has them: scaled, in its order, as text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/biquad.h"
#include "core/word/layout.h"

#include <string>
#include <vector>

namespace syntonon {

// A row a section, a number for each term of the layout's order.
using CoefficientRows = std::vector<std::vector<std::string>>;

// Refuses a section that cannot be normalised or does not fit the number type: "section 3".
Expected<CoefficientRows> coefficient_rows(const Cascade& cascade, const CoefficientLayout& layout);

// Refuses one that does not fit the number type: "tap 12".
Expected<std::vector<std::string>> tap_texts(const std::vector<double>& taps,
                                             const CoefficientLayout& layout);

} // namespace syntonon
