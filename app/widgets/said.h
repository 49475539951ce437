// A label that says how things stand, or what is wrong, in the colour of either.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/theme.h"

#include <QLabel>
#include <QPalette>
#include <QString>

namespace syntonon {

inline void say_on(QLabel& label, const QString& words, bool is_problem,
                   const QColor& otherwise = theme().soft) {
    QPalette colours =
        label.parentWidget() != nullptr ? label.parentWidget()->palette() : label.palette();
    colours.setColor(QPalette::WindowText, is_problem ? theme().not_met : otherwise);
    label.setPalette(colours);
    label.setText(words);
}

} // namespace syntonon
