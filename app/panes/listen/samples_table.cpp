// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/samples_table.h"

#include "app/widgets/copied_cells.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "core/base/number_text.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <algorithm>

namespace syntonon {

SamplesTable::SamplesTable(QWidget* parent) : QTableWidget(parent) {
    constexpr int close_rows = 20;
    set_up_rows(*this, {"n", tr("in"), tr("out")}, close_rows);
    set_up_reading(*this, beside_page);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    title_numbers(*this, {0, 1, 2});
    setAccessibleName(tr("First values of the signals"));
    setToolTip(tr("Ctrl+C copies the chosen cells with all digits"));
}

void SamplesTable::show_values(const std::vector<double>& in, const std::vector<double>& out) {
    const auto count = static_cast<int>(std::min<std::size_t>(in.size(), shown_values));
    setRowCount(count);
    for (int row = 0; row < count; ++row) {
        const auto i = static_cast<std::size_t>(row);
        const auto put = [&](int column, const QString& text, const QString& exact) {
            if (item(row, column) == nullptr) {
                setItem(row, column, new QTableWidgetItem);
                item(row, column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            }
            item(row, column)->setText(text);
            item(row, column)->setToolTip(exact);
        };
        const auto put_number = [&](int column, double value) {
            put(column, shown_number(value, 9), QString::fromStdString(shortest_text(value)));
        };
        put(0, QString::number(row), {});
        put_number(1, in[i]);
        i < out.size() ? put_number(2, out[i]) : put(2, QStringLiteral("–"), {});
    }
}

void SamplesTable::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy)) {
        copy_chosen_cells(*this);
    } else {
        QTableWidget::keyPressEvent(event);
    }
}

} // namespace syntonon
