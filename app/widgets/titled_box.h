// A caption above a control, in line with the fields beside it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

#include "app/widgets/theme.h"

namespace syntonon {

class TitledBox : public QWidget {
public:
    TitledBox(const QString& title, QComboBox* control, int width, QWidget* parent = nullptr)
        : QWidget(parent) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(0);
        auto* caption = new QLabel(title);
        caption->setFont(text_font(11));
        caption->setFixedHeight(18);
        caption->setForegroundRole(QPalette::PlaceholderText);
        caption->setBuddy(control);
        control->setFont(text_font(17));
        control->setFixedHeight(28);
        column->addWidget(caption);
        column->addWidget(control);
        column->addStretch(1);
        setFixedWidth(width);
    }
};

} // namespace syntonon
