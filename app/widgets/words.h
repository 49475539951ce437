// Words for people outside of classes that have a tr() of their own.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QCoreApplication>
#include <QString>

namespace syntonon {

inline QString tr(const char* text) {
    return QCoreApplication::translate("syntonon", text);
}

} // namespace syntonon
