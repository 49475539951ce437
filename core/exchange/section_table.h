// Rows of numbers as sections: which column is which coefficient.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/rational.h"
#include "core/word/layout.h"

#include <cstddef>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

struct ValueRow {
    std::string name;
    std::vector<double> values;
    std::size_t line = 0;
};

bool have_width(const std::vector<ValueRow>& rows, std::size_t width);
// A first column that counts on from 0 or 1, of several rows.
bool have_index(const std::vector<ValueRow>& rows);
void drop_index(std::vector<ValueRow>& rows);
// All values in rows of so many; refused with the last line where some are left.
Expected<std::vector<ValueRow>> in_rows_of(std::size_t width, const std::vector<ValueRow>& rows);

// Orders that rows of 5 or 6 may have, the likeliest first; of 6 those whose a0 or b0 is the same
// in all rows, 1 above all, go first. None for other widths.
std::vector<std::vector<Term>> likely_orders(const std::vector<ValueRow>& rows);
bool has_column_of_ones(const std::vector<ValueRow>& rows, std::size_t column);

// As a0 y[n] = ... - a1 y[n-1] - a2 y[n-2]; terms that the order leaves out are 0, b0 = 1 beside a
// gain, a0 = 1 or what the normalisation makes of it. Refused at the line where a0 = 0.
Expected<Coefficients> section_of(const ValueRow& row, const SectionConvention& convention);

// The greatest radius of a pole; infinite where they are not found.
double pole_radius(const Coefficients& fraction);
double pole_radius(std::span<const Coefficients> fractions);
Coefficients with_other_sign(Coefficients fraction);

} // namespace syntonon
