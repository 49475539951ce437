// Chosen cells of a table onto the clipboard.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

class QTableWidget;

namespace syntonon {

// Rows as lines, parted by tabs. A cell's tip, where it has one, holds all digits: a copy must be
// as good as an export.
void copy_chosen_cells(const QTableWidget& table);

} // namespace syntonon
