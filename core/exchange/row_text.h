// Rows of coefficients written as text: "b: 1, 2", "a0 = 1".
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/expression.h"

#include <vector>

namespace syntonon {

bool begins_row(const Token& token);
// Both rows, as they are written. Refused at its place: what is no number, a row that is missing or
// there twice, more than 400 numbers.
Reading<Coefficients> rows_of(const std::vector<Token>& tokens);

} // namespace syntonon
