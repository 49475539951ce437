// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/time_table.h"

#include "app/widgets/copied_cells.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "core/base/number_text.h"
#include "core/filter/analog_time.h"

#include <QHeaderView>
#include <QKeyEvent>

namespace syntonon {
namespace {

QTableWidgetItem* number_cell(double value) {
    auto* cell = new QTableWidgetItem(shown_number(value, 10));
    cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    cell->setToolTip(QString::fromStdString(text_with_digits(value, 17)));
    return cell;
}

AnalogTimeResponse answer_in_samples(const Filter& chain, std::size_t count) {
    AnalogTimeResponse answer;
    answer.impulse = chain.impulse_response(count);
    double sum = 0;
    for (const double value : answer.impulse) {
        answer.step.push_back(sum += value);
    }
    return answer;
}

} // namespace

TimeTable::TimeTable(Session& session, QWidget* parent) : QTableWidget(parent), session_(session) {
    set_up_rows(*this, {"n", tr("impulse h[n]"), tr("step")});
    title_numbers(*this, {0, 1, 2});
    set_up_reading(*this, beside_page);
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
    const bool is_analog = session_.axis().is_analog();
    setHorizontalHeaderLabels(is_analog
                                  ? QStringList{tr("t ms"), tr("impulse h(t) 1/ms"), tr("step")}
                                  : QStringList{"n", tr("impulse h[n]"), tr("step")});
    const double period_s = 1 / session_.study().sample_rate_hz;
    const auto answer =
        is_analog ? analog_time_response(analysis->chain, period_s, shown_values)
                  : Expected<AnalogTimeResponse>(answer_in_samples(analysis->chain, shown_values));
    setRowCount(answer ? shown_values : 0);
    for (int n = 0; n < rowCount(); ++n) {
        const auto i = static_cast<std::size_t>(n);
        const double value = answer->impulse[i] * (is_analog ? 1e-3 : 1), sum = answer->step[i];
        auto* index = new QTableWidgetItem(is_analog ? QString::number(n * period_s * 1e3, 'f', 4)
                                                     : QString::number(n));
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
