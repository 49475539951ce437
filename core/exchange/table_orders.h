// Which orders the rows of a table may have.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/found_coefficients.h"
#include "core/exchange/section_table.h"

#include <string>
#include <vector>

namespace syntonon {

// The likeliest first, none where they are no sections; one of what is asked, of the titles of its
// columns, or of the text's own head. Changes the rows to fit: takes their index off, and makes
// sections of what stands in one row or column where each sixth number is the same power of 2, or
// where sections are asked for. Refused where numbers are left.
Expected<std::vector<std::vector<Term>>> orders_of(std::vector<ValueRow>& rows,
                                                   const WrittenNumbers& text,
                                                   const CoefficientReading& reading,
                                                   std::vector<std::string>& notes);

// Two rows, or pairs of three numbers each, the second of which begins with a0 = 1; of five or six
// columns, which may be sections, with all poles inside the circle.
bool look_like_fractions(const std::vector<ValueRow>& rows);

} // namespace syntonon
