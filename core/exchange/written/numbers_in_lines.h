// Tables and named numbers, a line at a time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/exchange/written/number_pieces.h"
#include "core/exchange/written/row_maker.h"

#include <vector>

namespace syntonon {

// Into rows; refused with the line.
Expected<void> read_numbers_in_lines(const std::vector<Piece>& pieces, RowMaker& rows);

} // namespace syntonon
