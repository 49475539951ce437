// A small flat button that opens a menu, in rows of words above and below panes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

class QToolButton;
class QWidget;

namespace syntonon {

// With an empty menu of its own.
QToolButton* menu_button(const QString& text, const QString& tip, QWidget* parent = nullptr);

} // namespace syntonon
