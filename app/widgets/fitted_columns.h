// Columns as wide as what stands in them, measured once a filling: the views' own mode measures
// again at every cell that changes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QHeaderView>
#include <QTableView>
#include <QTreeView>
#include <algorithm>
#include <initializer_list>

namespace syntonon {

template <class View>
void fit_columns(View& view, std::initializer_list<int> columns, int widest = 10'000) {
    QHeaderView& header = [&]() -> QHeaderView& {
        if constexpr (std::is_base_of_v<QTableView, View>) {
            return *view.horizontalHeader();
        } else {
            return *view.header();
        }
    }();
    for (const int column : columns) {
        view.resizeColumnToContents(column);
        header.resizeSection(column, std::min(widest, header.sectionSize(column)));
    }
}

} // namespace syntonon
