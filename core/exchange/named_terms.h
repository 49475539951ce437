// Coefficients that carry their names: "b0 = 1", ".a1 = -0.9f".
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/section_table.h"

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace syntonon {

using NamedTerms = std::vector<std::pair<std::string, double>>;

bool has(const NamedTerms& terms, std::string_view name);

// Those of one fraction each. A name that comes again begins the next one; where names have several
// values, these are those of one fraction each.
std::vector<NamedTerms> grouped(const std::vector<ValueRow>& terms);

// What is missing is 0; b0 is 1 where there is no other b, or a gain, by which all b are
// multiplied. Refused where a0 is 0.
Expected<Coefficients> fraction_of(const NamedTerms& terms, FeedbackSign sign,
                                   Normalisation normalisation);

} // namespace syntonon
