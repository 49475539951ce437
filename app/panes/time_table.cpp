// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/time_table.h"

#include "app/widgets/copied_cells.h"
#include "app/widgets/table_rows.h"
#include "core/base/number_text.h"

#include <QHeaderView>
#include <QKeyEvent>

namespace syntonon {
namespace {

QTableWidgetItem* number_cell(double value) {
    auto* cell = new QTableWidgetItem(
        QString::fromStdString(text_with_digits(value, 10)).replace('-', QStringLiteral("−")));
    cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    cell->setToolTip(QString::fromStdString(text_with_digits(value, 17)));
    return cell;
}

} // namespace

TimeTable::TimeTable(Session& session, QWidget* parent) : QTableWidget(parent), session_(session) {
    set_up_rows(*this, {"n", tr("impulse h[n]"), tr("step")});
    set_up_reading(*this);
    setAccessibleName(tr("First values of the chain's answer in time"));
    setToolTip(tr("Ctrl+C copies"));
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    connect(&session_, &Session::analysis_changed, this, &TimeTable::refresh);
}

void TimeTable::showEvent(QShowEvent* event) {
    QTableWidget::showEvent(event);
    refresh();
}

void TimeTable::refresh() {
    const auto analysis = session_.analysis();
    if (!isVisible() || analysis == nullptr) {
        return; // filled when it is looked at
    }
    const auto impulse = analysis->chain.impulse_response(shown_values);
    setRowCount(shown_values);
    double sum = 0;
    for (int n = 0; n < shown_values; ++n) {
        const double value = impulse[static_cast<std::size_t>(n)];
        sum += value;
        auto* index = new QTableWidgetItem(QString::number(n));
        index->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        setItem(n, 0, index);
        setItem(n, 1, number_cell(value));
        setItem(n, 2, number_cell(sum));
    }
}

void TimeTable::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy)) {
        copy_chosen_cells(*this);
    } else {
        QTableWidget::keyPressEvent(event);
    }
}

} // namespace syntonon
