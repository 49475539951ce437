// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/numbers_pane.h"

#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>

namespace syntonon {

NumbersPane::NumbersPane(Session& session, QWidget* parent)
    : QTableWidget(parent), session_(session) {
    setColumnCount(6);
    setHorizontalHeaderLabels({tr("stage"), "b0", "b1", "b2", "a1", "a2"});
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(22);
    setEditTriggers(NoEditTriggers);
    setFrameShape(NoFrame);
    setShowGrid(false);
    setWordWrap(false);
    setAccessibleName(tr("Coefficients of all sections"));
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    setStyleSheet("QTableView { border: none; }");
    setToolTip(tr("y[n] = b0 x[n] + b1 x[n−1] + b2 x[n−2] − a1 y[n−1] − a2 y[n−2]; Ctrl+C copies"));
    connect(&session_, &Session::analysis_changed, this, &NumbersPane::refresh);
    connect(this, &QTableWidget::cellClicked, this, [this](int row, int) {
        session_.select_stage(item(row, 0)->data(Qt::UserRole).toInt());
    });
}

void NumbersPane::showEvent(QShowEvent* event) {
    QTableWidget::showEvent(event);
    refresh();
}

void NumbersPane::refresh() {
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    if (!isVisible() || analysis == nullptr || channel == nullptr) {
        return; // filled when it is looked at
    }
    int row = 0;
    const auto put = [&](int column, const QString& text, int stage) {
        if (item(row, column) == nullptr) {
            setItem(row, column, new QTableWidgetItem);
        }
        item(row, column)->setText(text);
        item(row, column)->setData(Qt::UserRole, stage);
        item(row, column)
            ->setTextAlignment(column == 0 ? Qt::AlignLeft | Qt::AlignVCenter
                                           : Qt::AlignRight | Qt::AlignVCenter);
    };
    for (std::size_t i = 0; i < analysis->stages.size() && i < channel->stages.size(); ++i) {
        const auto& filter = analysis->stages[i]->filter;
        const Cascade* cascade = filter ? filter->as_cascade() : nullptr;
        if (!channel->stages[i].enabled || cascade == nullptr) {
            continue;
        }
        for (const Biquad& s : cascade->sections) {
            setRowCount(std::max(rowCount(), row + 1));
            put(0,
                QStringLiteral("%1 %2").arg(i + 1).arg(
                    QString::fromStdString(title_of(channel->stages[i]))),
                static_cast<int>(i));
            int column = 1;
            for (const double c : {s.b0, s.b1, s.b2, s.a1, s.a2}) {
                put(column++, QString::fromStdString(text_with_digits(c, 7)), static_cast<int>(i));
                item(row, column - 1)->setToolTip(QString::fromStdString(text_with_digits(c, 17)));
            }
            ++row;
        }
    }
    setRowCount(row);
}

void NumbersPane::keyPressEvent(QKeyEvent* event) {
    if (!event->matches(QKeySequence::Copy)) {
        QTableWidget::keyPressEvent(event);
        return;
    }
    QStringList lines;
    for (int row = 0; row < rowCount(); ++row) {
        QStringList cells;
        for (int column = 0; column < columnCount(); ++column) {
            if (item(row, column)->isSelected()) {
                // With all digits: a copy must be as good as an export.
                cells << (column == 0 ? item(row, column)->text() : item(row, column)->toolTip());
            }
        }
        if (!cells.isEmpty()) {
            lines << cells.join('\t');
        }
    }
    QApplication::clipboard()->setText(lines.join('\n'));
}

} // namespace syntonon
