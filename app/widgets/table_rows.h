// What all tables of rows have in common.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QHeaderView>
#include <QStringList>
#include <QTableWidget>
#include <initializer_list>

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
    table.horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table.horizontalHeader()->setHighlightSections(false);
}

// A title stands where what is below it stands: at the right above numbers.
inline void title_numbers(QTableWidget& table, std::initializer_list<int> columns) {
    for (const int column : columns) {
        table.horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
}

constexpr int beside_page = 12; // so that a table's words stand below the page's title

// For reading only: no lines, no frame; so much room at its sides.
inline void set_up_reading(QTableWidget& table, int beside = 0) {
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setFrameShape(QFrame::NoFrame);
    table.setShowGrid(false);
    table.setStyleSheet(QStringLiteral("QTableView { border: none; margin: 0 %1px; }").arg(beside));
}

} // namespace syntonon
