// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/verdict_pane.h"

#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <QHeaderView>
#include <QLabel>
#include <QTimer>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

QString mark_of(Outcome outcome) {
    return outcome == Outcome::met       ? QStringLiteral("● ")
           : outcome == Outcome::not_met ? QStringLiteral("◇ ")
                                         : QStringLiteral("◌ ");
}

QString number(const std::optional<double>& value, const std::string& unit) {
    if (!value) {
        return QStringLiteral("–");
    }
    // What is left of 0 after rounding is 0.
    const double shown = std::abs(*value) < 1e-9 ? 0 : *value;
    const QString text = shown_number(shown, 3);
    return unit.empty() ? text : text + " " + QString::fromStdString(unit);
}

QStringList cells_of(const Finding& finding) {
    const QString title = mark_of(finding.outcome) + shown_words(finding.requirement);
    if (finding.outcome == Outcome::undecided) {
        return {title, QObject::tr("undecided"), {}, {}, {}};
    }
    return {title, number(finding.value, finding.unit), number(finding.limit, finding.unit),
            number(finding.margin, finding.unit),
            finding.worst_hz ? QString::fromStdString(frequency_text(*finding.worst_hz))
                             : QString()};
}

} // namespace

VerdictPane::VerdictPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), summary_(new QLabel), tree_(new QTreeWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    summary_->setWordWrap(true);
    column->addWidget(summary_);
    column->addWidget(tree_, 1);
    tree_->setColumnCount(5);
    tree_->setHeaderLabels({tr("requirement"), tr("value"), tr("limit"), tr("margin"), tr("at")});
    tree_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    tree_->header()->setStretchLastSection(false);
    for (const int number : {1, 2, 3, 4}) { // what a number says must not be cut
        tree_->header()->setSectionResizeMode(number, QHeaderView::ResizeToContents);
    }
    tree_->header()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    tree_->headerItem()->setTextAlignment(0, Qt::AlignLeft | Qt::AlignVCenter);
    tree_->setWordWrap(true); // and a long name takes a second line
    tree_->setIndentation(10);
    tree_->setAccessibleName(tr("Verdict of all channels"));
    connect(tree_, &QTreeWidget::itemClicked, this,
            [this](QTreeWidgetItem* item) { go_to(*item); });
    connect(tree_, &QTreeWidget::itemActivated, this,
            [this](QTreeWidgetItem* item) { go_to(*item); });
    connect(tree_->header(), &QHeaderView::sectionResized, this, [this](int section) {
        if (section == 0) {
            fit_rows();
        }
    });
    connect(&session_, &Session::analysis_changed, this, &VerdictPane::refresh);
}

void VerdictPane::fit_rows() {
    constexpr int margin = 8;
    const int width = tree_->columnWidth(0) - 2 * tree_->indentation() - margin;
    for (int i = 0; i < tree_->topLevelItemCount(); ++i) {
        QTreeWidgetItem& channel = *tree_->topLevelItem(i);
        for (int row = 0; row < channel.childCount(); ++row) {
            const QRect needed = tree_->fontMetrics().boundingRect(
                QRect(0, 0, width, 1000), Qt::TextWordWrap, channel.child(row)->text(0));
            channel.child(row)->setSizeHint(0, QSize(0, needed.height() + 1));
        }
    }
}

QString VerdictPane::summary() const {
    return summary_->text();
}

void VerdictPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void VerdictPane::refresh() {
    if (!isVisible()) {
        return;
    }
    const auto& channels = session_.study().channels;
    while (tree_->topLevelItemCount() > static_cast<int>(channels.size())) {
        delete tree_->takeTopLevelItem(tree_->topLevelItemCount() - 1);
    }
    int all = 0, met = 0, undecided = 0;
    for (int i = 0; i < static_cast<int>(channels.size()); ++i) {
        const bool fresh = i >= tree_->topLevelItemCount();
        if (fresh) {
            tree_->addTopLevelItem(new QTreeWidgetItem);
        }
        const Channel& channel = *channels[static_cast<std::size_t>(i)];
        show_channel(*tree_->topLevelItem(i), channel, fresh);
        const Verdict& verdict = session_.analysis_of(channel)->verdict;
        all += static_cast<int>(verdict.size());
        met += static_cast<int>(std::ranges::count(verdict, Outcome::met, &Finding::outcome));
        undecided +=
            static_cast<int>(std::ranges::count(verdict, Outcome::undecided, &Finding::outcome));
    }
    fit_rows();
    QTimer::singleShot(0, this, &VerdictPane::fit_rows); // columns take their widths only later
    summary_->setText(
        met == all ? tr("All requirements are met: %1 of %2.")
                         .arg(all)
                         .arg(counted(static_cast<qint64>(channels.size()), "channel", "channels"))
                   : tr("%1 of %2 requirements are met, %3 are not, %4 cannot be "
                        "decided.")
                         .arg(met)
                         .arg(all)
                         .arg(all - met - undecided)
                         .arg(undecided));
}

void VerdictPane::show_channel(QTreeWidgetItem& item, const Channel& channel, bool fresh) {
    const Verdict& verdict = session_.analysis_of(channel)->verdict;
    const Goal* goal = goal_of(session_.study(), channel);
    item.setText(0, mark_of(is_met(verdict) ? Outcome::met : Outcome::not_met)
                        + QString::fromStdString(channel.name));
    item.setText(1, goal != nullptr ? QString() : tr("no goal"));
    item.setToolTip(0, goal != nullptr ? QString::fromStdString(goal->name) : tr("no goal"));
    QFont bold = text_font(12, QFont::DemiBold);
    item.setFont(0, bold);
    while (item.childCount() > static_cast<int>(verdict.size())) {
        delete item.takeChild(item.childCount() - 1);
    }
    for (int i = 0; i < static_cast<int>(verdict.size()); ++i) {
        if (i >= item.childCount()) {
            item.addChild(new QTreeWidgetItem);
        }
        const Finding& finding = verdict[static_cast<std::size_t>(i)];
        QTreeWidgetItem& row = *item.child(i);
        const QStringList cells = cells_of(finding);
        for (int column = 0; column < cells.size(); ++column) {
            row.setText(column, cells[column]);
            const QString title = cells[0].mid(2);
            row.setToolTip(column, finding.reason.empty()
                                       ? title
                                       : title + "\n" + shown_words(finding.reason));
            row.setTextAlignment(column, column == 0 ? Qt::AlignLeft | Qt::AlignVCenter
                                                     : Qt::AlignRight | Qt::AlignVCenter);
            row.setForeground(column,
                              finding.outcome == Outcome::met ? theme().text : theme().not_met);
        }
    }
    if (fresh) {
        item.setExpanded(true);
    }
}

void VerdictPane::go_to(const QTreeWidgetItem& item) {
    const QTreeWidgetItem* channel_item = item.parent() != nullptr ? item.parent() : &item;
    const int channel = tree_->indexOfTopLevelItem(const_cast<QTreeWidgetItem*>(channel_item));
    const int row = item.parent() != nullptr
                        ? channel_item->indexOfChild(const_cast<QTreeWidgetItem*>(&item))
                        : -1;
    session_.select_channel(channel);
    const auto analysis = session_.analysis();
    if (row >= 0 && analysis != nullptr && row < static_cast<int>(analysis->verdict.size())) {
        emit finding_chosen(analysis->verdict[static_cast<std::size_t>(row)]);
    }
}

} // namespace syntonon
