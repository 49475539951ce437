// Numbers as C and C++ write them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/arithmetic.h"

#include <string>

namespace syntonon {

// Digits of a finite number as a floating literal: "1" is "1.0", of single precision "1.0f".
std::string c_literal(std::string digits, bool is_single);
// A coefficient in its word: a whole number where that is fixed.
std::string c_number(double coefficient, const Arithmetic& how);

} // namespace syntonon
