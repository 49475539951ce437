// Words for people outside of classes that have a tr() of their own.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QCoreApplication>
#include <QString>
#include <string_view>

namespace syntonon {

inline QString tr(const char* text) {
    return QCoreApplication::translate("syntonon", text);
}

inline QString text_of(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

inline QString capitalised(QString text) {
    if (!text.isEmpty()) {
        text[0] = text[0].toUpper();
    }
    return text;
}

// "1 section", "2 sections".
inline QString counted(qint64 count, const char* one, const char* more) {
    return QStringLiteral("%1 %2").arg(count).arg(tr(count == 1 ? one : more));
}

} // namespace syntonon
