// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/working_pane.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace syntonon {
namespace {

QString value_text(const WorkingNumber& number) {
    const QString value = shown_number(number.value, 10);
    return number.unit.empty() ? value : value + " " + QString::fromStdString(number.unit);
}

} // namespace

WorkingPane::WorkingPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), method_(new QLabel), tree_(new QTreeWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    method_->setWordWrap(true);
    method_->setForegroundRole(QPalette::PlaceholderText);
    column->addWidget(method_);
    column->addWidget(tree_, 1);
    tree_->setColumnCount(3);
    tree_->setHeaderLabels({tr("symbol"), tr("value"), tr("what it is")});
    tree_->header()->setSectionResizeMode(2, QHeaderView::Stretch);
    tree_->header()->resizeSection(0, 84);
    tree_->header()->resizeSection(1, 168);
    tree_->setIndentation(10);
    tree_->setAccessibleName(tr("Working of the selected stage"));
    auto* copy_button = new QPushButton(tr("Copy as text"));
    column->addWidget(copy_button, 0, Qt::AlignLeft);
    connect(copy_button, &QPushButton::clicked, this, &WorkingPane::copy);
    connect(&session_, &Session::analysis_changed, this, &WorkingPane::refresh);
    connect(&session_, &Session::selection_changed, this, &WorkingPane::refresh);
}

void WorkingPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void WorkingPane::refresh() {
    if (!isVisible()) {
        return;
    }
    const Stage* stage = session_.stage();
    tree_->setVisible(stage != nullptr);
    if (stage == nullptr) {
        method_->setText(tr("Select a stage to see the numbers behind it."));
        return;
    }
    const auto working = session_.working();
    if (!working) {
        method_->setText(QString::fromStdString(to_text(working.error())));
        tree_->clear();
        return;
    }
    method_->setText(QString::fromStdString(title_of(*stage) + " " + summary_of(*stage) + ". "
                                            + working->method));
    tree_->clear();
    for (const WorkingStep& step : working->steps) {
        auto* title = new QTreeWidgetItem({QString::fromStdString(step.title)});
        title->setFont(0, text_font(12, QFont::DemiBold));
        tree_->addTopLevelItem(title);
        title->setFirstColumnSpanned(true);
        for (const WorkingNumber& number : step.numbers) {
            auto* row =
                new QTreeWidgetItem({QString::fromStdString(number.symbol), value_text(number),
                                     QString::fromStdString(number.meaning)});
            row->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
            row->setForeground(2, theme().soft);
            title->addChild(row);
        }
        title->setExpanded(true);
    }
}

void WorkingPane::copy() const {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    const auto working = session_.working();
    if (!working) {
        return;
    }
    QString text = method_->text() + "\n";
    for (const WorkingStep& step : working->steps) {
        text += "\n" + QString::fromStdString(step.title) + "\n";
        for (const WorkingNumber& number : step.numbers) {
            text += QString::fromStdString(number.symbol) + "\t"
                    + QString::fromStdString(text_with_digits(number.value, 17)) + "\t"
                    + QString::fromStdString(number.unit) + "\t"
                    + QString::fromStdString(number.meaning) + "\n";
        }
    }
    QGuiApplication::clipboard()->setText(text);
}

} // namespace syntonon
