// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/limit_table.h"

#include "app/panes/goal/number_table.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

namespace syntonon {

LimitTable::LimitTable(const QString& caption, const QString& title, const QString& about,
                       QWidget* parent)
    : QWidget(parent), table_(new NumberTable({tr("at, Hz"), title}, caption)),
      add_(new QPushButton(tr("Add"))), remove_(new QPushButton(tr("Remove"))) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    auto* label = new QLabel(caption);
    label->setToolTip(about);
    label->setBuddy(table_);
    grid->addWidget(label, 0, 0, 1, 2);
    grid->addWidget(table_, 1, 0, 1, 2);
    grid->addWidget(add_, 2, 0);
    grid->addWidget(remove_, 2, 1);
    connect(table_, &NumberTable::entered, this, &LimitTable::entered);
    connect(table_, &NumberTable::rows_chosen, this, &LimitTable::tell_buttons);
    connect(add_, &QPushButton::clicked, this, &LimitTable::more_wanted);
    connect(remove_, &QPushButton::clicked, this,
            [this] { emit fewer_wanted(table_->chosen_rows()); });
    tell_buttons();
}

void LimitTable::show_points(const std::vector<std::pair<double, double>>& points) {
    std::vector<QStringList> rows;
    for (const auto& [hz, value] : points) {
        rows.push_back({number_cell(hz), number_cell(value)});
    }
    table_->show_rows(rows);
    tell_buttons();
}

void LimitTable::tell_buttons() {
    remove_->setEnabled(!table_->chosen_rows().empty());
}

} // namespace syntonon
