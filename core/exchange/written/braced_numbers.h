// Arrays and structures of C, also within the declarations of a program; lists of names and numbers
// in braces. Bodies of functions are left out.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/exchange/written/number_pieces.h"
#include "core/exchange/written/row_maker.h"

#include <vector>

namespace syntonon {

// Into rows; refused with the line.
Expected<void> read_braced_numbers(const std::vector<Piece>& pieces, RowMaker& rows);

} // namespace syntonon
