// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/network_pane.h"

#include "app/plot/lane_stack.h"
#include "app/widgets/theme.h"

#include <QHeaderView>
#include <QScopedValueRollback>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace syntonon {
namespace {

constexpr int key_role = Qt::UserRole, hz_role = Qt::UserRole + 1;

QString key_of(const QTreeWidgetItem& item) {
    return item.data(0, key_role).toString();
}

QTreeWidgetItem* new_row() {
    auto* item = new QTreeWidgetItem;
    item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
    item->setForeground(2, theme().soft);
    return item;
}

void keep_count(QTreeWidgetItem& head, int count) {
    while (head.childCount() > count) {
        delete head.takeChild(head.childCount() - 1);
    }
    while (head.childCount() < count) {
        head.addChild(new_row());
    }
}

} // namespace

NetworkPane::NetworkPane(Session& session, LaneStack& lanes, QWidget* parent)
    : QWidget(parent), session_(session), lanes_(lanes), tree_(new QTreeWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    column->addWidget(tree_, 1);
    tree_->setColumnCount(3);
    tree_->setHeaderHidden(true);
    tree_->header()->setSectionResizeMode(2, QHeaderView::Stretch);
    tree_->header()->resizeSection(0, 146);
    tree_->header()->resizeSection(1, 84);
    tree_->setIndentation(10);
    tree_->setUniformRowHeights(true);
    tree_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff); // hints say what is cut off
    tree_->setAccessibleName(tr("Network: what is to be known of it"));
    connect(tree_, &QTreeWidget::itemChanged, this, &NetworkPane::take_check);
    connect(tree_, &QTreeWidget::itemClicked, this, &NetworkPane::take_click);
    connect(tree_, &QTreeWidget::itemActivated, this, &NetworkPane::take_click);
    connect(&session_, &Session::analysis_changed, this, &NetworkPane::refresh);
    connect(&session_, &Session::selection_changed, this, &NetworkPane::refresh);
    connect(&lanes_, &LaneStack::curves_chosen, this, &NetworkPane::refresh_curves);
}

void NetworkPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

// Rows stay and are written over: a drag moves numbers, seldom their places. What was folded up
// stays so.
void NetworkPane::refresh() {
    const Stage* network = session_.network();
    if (!isVisible() || network == nullptr
        || (shown_ == session_.analysis() && shown_stage_ == session_.selection().stage)) {
        return;
    }
    shown_ = session_.analysis();
    shown_stage_ = session_.selection().stage;
    const auto sections = network_sections(session_, *network, lanes_.curves());
    const QScopedValueRollback filling(is_filling_, true);
    while (tree_->topLevelItemCount() > static_cast<int>(sections.size())) {
        delete tree_->takeTopLevelItem(tree_->topLevelItemCount() - 1);
    }
    for (int i = 0; i < static_cast<int>(sections.size()); ++i) {
        show_section(i, sections[static_cast<std::size_t>(i)]);
    }
}

void NetworkPane::show_section(int index, const NetworkSection& section) {
    if (index == tree_->topLevelItemCount()) {
        tree_->addTopLevelItem(new QTreeWidgetItem);
        tree_->topLevelItem(index)->setFont(0, text_font(12, QFont::DemiBold));
        tree_->topLevelItem(index)->setFirstColumnSpanned(true);
        tree_->topLevelItem(index)->setExpanded(true);
    }
    QTreeWidgetItem& head = *tree_->topLevelItem(index);
    head.setText(0, section.title);
    const int count = static_cast<int>(section.rows.size());
    keep_count(head, count);
    for (int k = 0; k < count; ++k) {
        show_row(head, k, section.rows[static_cast<std::size_t>(k)]);
    }
}

void NetworkPane::show_row(QTreeWidgetItem& head, int index, const NetworkRow& row) {
    if (key_of(*head.child(index)).isEmpty() != row.key.isEmpty()) {
        delete head.takeChild(index); // a check box cannot be taken away from a row
        head.insertChild(index, new_row());
    }
    QTreeWidgetItem& item = *head.child(index);
    const QString texts[] = {row.name, row.value, row.note};
    for (int column = 0; column < 3; ++column) {
        if (item.text(column) != texts[column]) {
            item.setText(column, texts[column]);
            item.setToolTip(column, texts[column]);
        }
    }
    item.setData(0, hz_role, row.hz ? QVariant(*row.hz) : QVariant());
    item.setData(0, key_role, row.key);
    if (!row.key.isEmpty()) {
        item.setFlags(item.flags() | Qt::ItemIsUserCheckable);
        item.setCheckState(0, lanes_.curves().is_shown(row.key) ? Qt::Checked : Qt::Unchecked);
    }
    const bool is_whole = row.value.isEmpty() && row.note.isEmpty();
    if (item.isFirstColumnSpanned() != is_whole) {
        item.setFirstColumnSpanned(is_whole);
    }
}

void NetworkPane::refresh_curves() {
    const QScopedValueRollback filling(is_filling_, true);
    for (int i = 0; i < tree_->topLevelItemCount(); ++i) {
        for (int k = 0; k < tree_->topLevelItem(i)->childCount(); ++k) {
            QTreeWidgetItem& item = *tree_->topLevelItem(i)->child(k);
            if (const QString key = key_of(item); !key.isEmpty()) {
                item.setCheckState(0, lanes_.curves().is_shown(key) ? Qt::Checked : Qt::Unchecked);
            }
        }
    }
}

void NetworkPane::take_check(QTreeWidgetItem* item) {
    const QString key = key_of(*item);
    if (!is_filling_ && !key.isEmpty()) {
        lanes_.show_curve(key, item->checkState(0) == Qt::Checked);
    }
}

// A frequency in the list is where the plumb line goes.
void NetworkPane::take_click(QTreeWidgetItem* item) {
    const QVariant hz = item->data(0, hz_role);
    if (hz.isValid()) {
        session_.plumb().set(hz.toDouble());
        session_.plumb().pin(true);
    }
}

} // namespace syntonon
