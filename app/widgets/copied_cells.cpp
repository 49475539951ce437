// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/copied_cells.h"

#include <QApplication>
#include <QClipboard>
#include <QTableWidget>

namespace syntonon {

void copy_chosen_cells(const QTableWidget& table) {
    QStringList lines;
    for (int row = 0; row < table.rowCount(); ++row) {
        QStringList cells;
        for (int column = 0; column < table.columnCount(); ++column) {
            const QTableWidgetItem* item = table.item(row, column);
            if (item != nullptr && item->isSelected()) {
                cells << (item->toolTip().isEmpty() ? item->text() : item->toolTip());
            }
        }
        if (!cells.isEmpty()) {
            lines << cells.join('\t');
        }
    }
    QApplication::clipboard()->setText(lines.join('\n'));
}

} // namespace syntonon
