// The texts of coefficient files, one writer a format; and what they share.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/coefficient_rows.h"
#include "core/exchange/coefficients.h"

#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// A number before each row and tap where wished.
std::string csv_text(const CoefficientSet& set, const CoefficientLayout& layout,
                     const CoefficientRows& rows, const std::vector<std::string>& taps,
                     bool indexed);
// Rows parted by blanks.
std::string plain_text(const CoefficientSet& set, const CoefficientLayout& layout,
                       const CoefficientRows& rows, const std::vector<std::string>& taps,
                       bool indexed);
std::string json_text(const CoefficientSet& set, const CoefficientLayout& layout,
                      const CoefficientRows& rows, const std::vector<std::string>& taps);
std::string c_header_text(const CoefficientSet& set, const CoefficientLayout& layout,
                          const CoefficientRows& rows, const std::vector<std::string>& taps);

// "key: value" lines, each without anything that could end a comment.
std::vector<std::string> head_lines(const CoefficientSet& set, const CoefficientLayout& layout);
// In words, for the head.
std::string_view meaning_of(FeedbackSign sign);
std::string_view meaning_of(Normalisation normalisation);

// Lower-case letters and digits, with the joint between words; "unnamed" of nothing.
std::string slug(std::string_view name, char joint);

} // namespace syntonon
