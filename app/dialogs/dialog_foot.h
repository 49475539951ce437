// The buttons below a dialog's form: the one that does it, and Cancel.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPushButton>

namespace syntonon {

// What `act` does is the caller's matter; Return presses it.
inline void add_foot(QFormLayout& form, QDialog& dialog, QPushButton& act) {
    auto* buttons = new QHBoxLayout;
    auto* cancel = new QPushButton(QObject::tr("Cancel"));
    buttons->addStretch(1);
    buttons->addWidget(&act);
    buttons->addWidget(cancel);
    form.addRow(buttons);
    act.setDefault(true);
    QObject::connect(cancel, &QPushButton::clicked, &dialog, &QDialog::reject);
}

} // namespace syntonon
