// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/takes_pane.h"

#include "app/model/take_commands.h"
#include "app/plot/lane_curves.h"
#include "app/widgets/colour_icon.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/study/comparison.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <algorithm>

namespace syntonon {
TakesPane::TakesPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget),
      freeze_(new QPushButton(tr("Freeze the chain as a take"))),
      restore_(new QPushButton(tr("Restore"))), only_(new QPushButton(tr("Show only this"))),
      all_(new QPushButton(tr("Show all"))), none_(new QPushButton(tr("Hide all"))),
      delete_(new QPushButton(tr("Remove"))), difference_(new QCheckBox(tr("Difference of"))),
      of_(new QComboBox), from_(new QComboBox), problem_(new QLabel) {
    lay_out();
    follow_buttons();
    connect(table_, &QTableWidget::cellChanged, this, &TakesPane::take_cell);
    connect(table_, &QTableWidget::currentCellChanged, this, [this] {
        if (!filling_) {
            refresh();
        }
    });
    connect(&session_, &Session::study_changed, this, &TakesPane::refresh);
    connect(&session_, &Session::selection_changed, this, &TakesPane::refresh);
}

void TakesPane::lay_out() {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(16, 8, 16, 8);
    grid->setVerticalSpacing(6);
    grid->addWidget(freeze_, 0, 0, 1, 2, Qt::AlignLeft);
    set_up_rows(*table_, {tr("take"), tr("stages")});
    title_numbers(*table_, {1});
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->horizontalHeader()->resizeSection(1, 70);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    table_->setAccessibleName(tr("Takes"));
    table_->setToolTip(tr("The tick shows a take on the lanes; a double click renames it"));
    grid->addWidget(table_, 1, 0, 1, 2);
    grid->setRowStretch(1, 1);
    auto* rows = new QGridLayout;
    rows->setSpacing(6);
    rows->addWidget(restore_, 0, 0);
    rows->addWidget(delete_, 0, 1);
    rows->addWidget(only_, 1, 0);
    rows->addWidget(all_, 1, 1);
    rows->addWidget(none_, 1, 2);
    rows->setColumnStretch(3, 1);
    grid->addLayout(rows, 2, 0, 1, 2);
    auto* compare = new QHBoxLayout;
    for (QComboBox* box : {of_, from_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(8);
    }
    of_->setAccessibleName(tr("Difference of"));
    from_->setAccessibleName(tr("minus"));
    compare->addWidget(difference_);
    compare->addWidget(of_, 1);
    compare->addWidget(new QLabel(tr("minus")));
    compare->addWidget(from_, 1);
    grid->addLayout(compare, 3, 0, 1, 2);
    problem_->setWordWrap(true);
    grid->addWidget(problem_, 4, 0, 1, 2);
}

void TakesPane::follow_buttons() {
    connect(freeze_, &QPushButton::clicked, this, [this] { freeze_take(session_); });
    connect(restore_, &QPushButton::clicked, this,
            [this] { restore_take(session_, table_->currentRow()); });
    connect(only_, &QPushButton::clicked, this,
            [this] { show_only_take(session_, table_->currentRow()); });
    connect(all_, &QPushButton::clicked, this, [this] { show_all_takes(session_, true); });
    connect(none_, &QPushButton::clicked, this, [this] { show_all_takes(session_, false); });
    connect(delete_, &QPushButton::clicked, this,
            [this] { remove_take(session_, table_->currentRow()); });
    connect(difference_, &QCheckBox::clicked, this, &TakesPane::take_difference);
    connect(of_, &QComboBox::activated, this, &TakesPane::take_difference);
    connect(from_, &QComboBox::activated, this, &TakesPane::take_difference);
}

// A take's tick or name, from the table.
void TakesPane::take_cell(int at, int column) {
    if (filling_ || column != 0) {
        return;
    }
    const QTableWidgetItem* item = table_->item(at, 0);
    const bool shown = item->checkState() == Qt::Checked;
    const QString name = item->text();
    // Later than the table's signal: it is filled anew, and its editor is still open.
    QMetaObject::invokeMethod(
        this,
        [this, at, shown, name] {
            show_take(session_, at, shown);
            rename_take(session_, at, name);
        },
        Qt::QueuedConnection);
}

void TakesPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void TakesPane::refresh() {
    if (!isVisible()) {
        return;
    }
    filling_ = true;
    const Channel* channel = session_.channel();
    const auto count = channel != nullptr ? static_cast<int>(channel->takes.size()) : 0;
    table_->setRowCount(count);
    for (int i = 0; i < count; ++i) {
        const Take& take = *channel->takes[static_cast<std::size_t>(i)];
        for (int column = 0; column < 2; ++column) {
            if (table_->item(i, column) == nullptr) {
                table_->setItem(i, column, new QTableWidgetItem);
            }
        }
        QTableWidgetItem* name = table_->item(i, 0);
        name->setIcon(colour_icon(take_colour(static_cast<std::size_t>(i)), Patch::line));
        name->setText(QString::fromStdString(take.name));
        name->setCheckState(take.shown ? Qt::Checked : Qt::Unchecked);
        QTableWidgetItem* stages = table_->item(i, 1);
        stages->setText(QString::number(stages_that_count(take.stages).size()));
        stages->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled);
        stages->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    filling_ = false;
    freeze_->setEnabled(channel != nullptr);
    const bool chosen = table_->currentRow() >= 0;
    for (QPushButton* button : {restore_, only_, delete_}) {
        button->setEnabled(chosen);
    }
    all_->setEnabled(count > 0);
    none_->setEnabled(count > 0);
    show_difference();
}

void TakesPane::show_difference() {
    problem_->hide();
    const Channel* channel = session_.channel();
    for (QWidget* widget : std::initializer_list<QWidget*>{difference_, of_, from_}) {
        widget->setEnabled(channel != nullptr);
    }
    if (channel == nullptr) {
        return;
    }
    const auto analysis = session_.analysis();
    const QString of = of_->currentData().toString(), from = from_->currentData().toString();
    const auto fill = [&](QComboBox* box, const QString& chosen, int otherwise) {
        box->clear();
        for (const ComparedCurve& curve : comparable(*channel, *analysis)) {
            box->addItem(QString::fromStdString(curve.name), QString::fromStdString(curve.key));
        }
        const int at = box->findData(chosen);
        box->setCurrentIndex(at >= 0 ? at : std::min(otherwise, box->count() - 1));
        if (at < 0 && !chosen.isEmpty() && channel->difference) {
            box->addItem(tr("%1 (missing)").arg(chosen), chosen);
            box->setCurrentIndex(box->count() - 1);
        }
    };
    const auto& difference = channel->difference;
    difference_->setChecked(difference.has_value());
    fill(of_, difference ? QString::fromStdString(difference->of) : of, 0);
    fill(from_, difference ? QString::fromStdString(difference->from) : from, 1);
    if (!difference) {
        return;
    }
    if (const auto drawn = difference_of(*difference, *channel, *analysis); !drawn) {
        problem_->setText(QString::fromStdString(to_text(drawn.error())));
        QPalette colours = palette();
        colours.setColor(QPalette::WindowText, theme().not_met);
        problem_->setPalette(colours);
        problem_->show();
    }
}

void TakesPane::take_difference() {
    const Difference chosen{of_->currentData().toString().toStdString(),
                            from_->currentData().toString().toStdString()};
    choose_difference(session_, difference_->isChecked() ? std::optional(chosen) : std::nullopt);
}

} // namespace syntonon
