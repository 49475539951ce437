// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/menu_button.h"

#include "app/widgets/theme.h"

#include <QMenu>
#include <QToolButton>

namespace syntonon {

QToolButton* menu_button(const QString& text, const QString& tip, QWidget* parent) {
    auto* button = new QToolButton(parent);
    button->setText(text);
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setPopupMode(QToolButton::InstantPopup);
    button->setAutoRaise(true);
    button->setFont(text_font(11));
    button->setFixedHeight(20);
    button->setMenu(new QMenu(button));
    return button;
}

} // namespace syntonon
