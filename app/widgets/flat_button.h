// A small button without a frame, as they stand under the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/theme.h"

#include <QToolButton>

namespace syntonon {

inline QToolButton* flat_button(const QString& text, const QString& tip) {
    auto* button = new QToolButton;
    button->setText(text);
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setAutoRaise(true);
    button->setFont(text_font(11));
    button->setFixedHeight(22);
    return button;
}

} // namespace syntonon
