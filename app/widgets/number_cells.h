// Cells of tables for reading.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/shown_number.h"

#include <QTableWidgetItem>

namespace syntonon {

inline QTableWidgetItem* text_cell(const QString& text, bool is_number) {
    auto* item = new QTableWidgetItem(text);
    item->setTextAlignment((is_number ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    return item;
}

} // namespace syntonon
