// What all tables of rows have in common.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QHeaderView>
#include <QStringList>
#include <QTableWidget>

namespace syntonon {

constexpr int table_row_height = 22;

// Titled columns, rows without numbers; Tab leaves the table.
inline void set_up_rows(QTableWidget& table, const QStringList& titles,
                        int row_height = table_row_height) {
    table.setColumnCount(static_cast<int>(titles.size()));
    table.setHorizontalHeaderLabels(titles);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(row_height);
    table.setTabKeyNavigation(false);
}

// For reading only: no lines, no frame.
inline void set_up_reading(QTableWidget& table) {
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setFrameShape(QFrame::NoFrame);
    table.setShowGrid(false);
    table.setStyleSheet("QTableView { border: none; }");
}

} // namespace syntonon
