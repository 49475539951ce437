// Difference equations written as text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/expression.h"

#include <string>
#include <vector>

namespace syntonon {

// One line of a chain of them: `to` out of `from` and of itself, earlier.
struct TextEquation {
    std::string from, to;
    Coefficients coefficients;
};

// Line by line, each out of the one above. Refused at its place: what is no equation, looks ahead,
// has no input or more than one.
Reading<std::vector<TextEquation>> equations_of(const std::vector<Token>& tokens);

} // namespace syntonon
