// Numbers as the window shows them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/number_text.h"

#include <QRegularExpression>
#include <QString>
#include <cmath>
#include <string_view>

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
// A core's text, its minus signs true ones: those before a digit.
inline QString shown_words(std::string_view text) {
    QString words = QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
    static const QRegularExpression minus(QStringLiteral("(?<![\\w.])-(?=\\d)"));
    return words.replace(minus, QStringLiteral("−"));
}

} // namespace syntonon
