// Cells of tables for reading.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/number_text.h"

#include <QString>
#include <QTableWidgetItem>
#include <cmath>

namespace syntonon {

// With a true minus sign: so many significant digits.
inline QString shown_number(double value, int digits) {
    if (std::isinf(value)) {
        return value < 0 ? QStringLiteral("−∞") : QStringLiteral("∞");
    }
    return QString::fromStdString(text_with_digits(value, digits))
        .replace(QStringLiteral("e-0"), QStringLiteral("e-")) // 4.5e−6, 4.5e6
        .replace(QStringLiteral("e+0"), QStringLiteral("e"))
        .replace(QStringLiteral("e+"), QStringLiteral("e"))
        .replace('-', QStringLiteral("−"));
}
// So many places behind the point.
inline QString fixed_number(double value, int places) {
    return std::isinf(value)
               ? shown_number(value, 1)
               : QString::number(value, 'f', places).replace('-', QStringLiteral("−"));
}

inline QTableWidgetItem* text_cell(const QString& text, bool is_number) {
    auto* item = new QTableWidgetItem(text);
    item->setTextAlignment((is_number ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    return item;
}

} // namespace syntonon
