// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/positions_pane.h"

#include "app/model/curve_commands.h"
#include "app/plot/lane_stack.h"
#include "app/plot/measured_curves.h"
#include "app/widgets/colour_icon.h"
#include "app/widgets/fitted_columns.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QShortcut>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

constexpr int weight_column = 1;
constexpr int curve_role = Qt::UserRole, channel_role = Qt::UserRole + 1;

QString level_of(const Curve& curve) {
    const auto mean = mean_level_db(curve, 200, 5000);
    return mean ? QString::fromStdString(signed_text(*mean, 1)) + QObject::tr(" dB")
                : QStringLiteral("–");
}

} // namespace

PositionsPane::PositionsPane(Session& session, LaneStack& lanes, QWidget* parent)
    : QWidget(parent), session_(session), lanes_(lanes), tree_(new QTreeWidget),
      import_(new QPushButton(tr("Import…"))), alone_(new QPushButton(tr("Show alone"))),
      together_(new QPushButton(tr("Show together"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 10, 12, 12);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Positions"));
    title->setFont(text_font(13, QFont::DemiBold));
    head->addWidget(title, 1);
    head->addWidget(import_);
    column->addLayout(head);
    tree_->setColumnCount(3);
    tree_->setHeaderLabels({tr("position"), tr("weight"), tr("level")});
    tree_->header()->setStretchLastSection(false);
    tree_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    tree_->setFrameShape(QFrame::NoFrame);
    tree_->setIndentation(14);
    tree_->setTextElideMode(Qt::ElideMiddle);
    tree_->setAccessibleName(tr("Measured positions"));
    tree_->setToolTip(tr("The tick shows a curve on the lanes; a click takes it in hand"));
    column->addWidget(tree_, 1);
    auto* foot = new QHBoxLayout;
    foot->addWidget(alone_);
    foot->addWidget(together_);
    foot->addStretch(1);
    column->addLayout(foot);
    follow();
}

void PositionsPane::follow() {
    connect(import_, &QPushButton::clicked, this, &PositionsPane::import_asked_for);
    connect(alone_, &QPushButton::clicked, this, [this] {
        if (const Curve* curve = curve_of(session_.study(), session_.curve_in_hand().id())) {
            lanes_.show_alone(curve_key(*curve));
            refresh();
        }
    });
    connect(together_, &QPushButton::clicked, this, [this] {
        lanes_.show_alone(std::nullopt);
        refresh();
    });
    connect(tree_, &QTreeWidget::itemClicked, this, &PositionsPane::take_click);
    connect(tree_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        if (!filling_) {
            take_click(item, 0);
        }
    });
    tree_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    auto* enter = new QShortcut(Qt::Key_Return, tree_, nullptr, nullptr, Qt::WidgetShortcut);
    connect(enter, &QShortcut::activated, this, [this] {
        if (tree_->currentItem() != nullptr) {
            emit tree_->itemDoubleClicked(tree_->currentItem(), weight_column);
        }
    });
    connect(tree_, &QTreeWidget::itemDoubleClicked, this, [this](QTreeWidgetItem* item, int at) {
        if (at == weight_column && !item->data(0, curve_role).toString().isEmpty()
            && item->data(0, channel_role).toInt() >= 0) {
            tree_->editItem(item, weight_column);
        }
    });
    connect(tree_, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item, int changed) {
        changed == weight_column ? take_weight(item) : take_check(item);
    });
    connect(&session_, &Session::study_changed, this, &PositionsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &PositionsPane::refresh);
    connect(&session_.curve_in_hand(), &CurveInHand::changed, this, &PositionsPane::refresh);
    connect(&lanes_, &LaneStack::curves_chosen, this, &PositionsPane::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &PositionsPane::refresh);
}

void PositionsPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

QTreeWidgetItem* PositionsPane::add_group(const QString& name, const QColor& colour, int channel,
                                          std::size_t count) {
    const QString positions = count == 1   ? tr("1 position")
                              : count == 0 ? tr("not measured")
                                           : tr("%1 positions").arg(count);
    auto* group = new QTreeWidgetItem(tree_, {QStringLiteral("%1 · %2").arg(name, positions)});
    group->setToolTip(0, group->text(0));
    group->setIcon(0, colour_icon(colour, Patch::square));
    QFont bold = tree_->font();
    bold.setWeight(QFont::DemiBold);
    group->setFont(0, bold);
    group->setData(0, channel_role, channel);
    group->setFirstColumnSpanned(true);
    return group;
}

void PositionsPane::add_curve_row(QTreeWidgetItem& group, const Position& position) {
    const Study& study = session_.study();
    const Curve* curve = curve_of(study, position.curve);
    auto* row = new QTreeWidgetItem(&group);
    row->setData(0, channel_role, group.data(0, channel_role));
    if (curve == nullptr) {
        row->setText(0, tr("%1 (missing)").arg(QString::fromStdString(position.curve)));
        row->setForeground(0, theme().not_met);
        row->setToolTip(0, tr("The study has no curve of this name: import it or choose another"));
        return;
    }
    const bool in_hand = curve->id == session_.curve_in_hand().id();
    row->setText(0, QString::fromStdString(curve->name));
    row->setToolTip(0, row->text(0));
    row->setText(1, QString::number(position.weight, 'g', 3));
    row->setText(2, level_of(*curve));
    row->setIcon(0,
                 colour_icon(in_hand ? theme().copper : curve_colour(study, *curve), Patch::disc));
    row->setFlags(row->flags() | Qt::ItemIsUserCheckable | Qt::ItemIsEditable);
    row->setToolTip(weight_column, tr("A double click or Enter changes the weight"));
    row->setCheckState(0,
                       lanes_.curves().is_shown(curve_key(*curve)) ? Qt::Checked : Qt::Unchecked);
    row->setData(0, curve_role, QString::fromStdString(curve->id));
    for (const int column : {1, 2}) {
        row->setTextAlignment(column, Qt::AlignRight | Qt::AlignVCenter);
    }
}

QTreeWidgetItem* PositionsPane::row_of(const std::string& curve) const {
    for (int g = 0; g < tree_->topLevelItemCount(); ++g) {
        QTreeWidgetItem* group = tree_->topLevelItem(g);
        for (int i = 0; i < group->childCount(); ++i) {
            if (group->child(i)->data(0, curve_role).toString() == QString::fromStdString(curve)) {
                return group->child(i);
            }
        }
    }
    return nullptr;
}

void PositionsPane::refresh() {
    if (isVisible()) {
        fill();
    }
}

void PositionsPane::fill() {
    const Seen now{session_.study(), session_.selection().channel, session_.curve_in_hand().id(),
                   lanes_.curves().choices(), theme().name};
    if (now == seen_) {
        return;
    }
    seen_ = now;
    filling_ = true;
    tree_->clear();
    const Study& study = session_.study();
    std::vector<Position> loose;
    for (const auto& curve : study.curves) {
        const bool used = std::ranges::any_of(study.channels, [&](const auto& channel) {
            return is_position_of(*channel, curve->id);
        });
        if (!used) {
            loose.push_back({curve->id, 1});
        }
    }
    int index = 0;
    for (const auto& channel : study.channels) {
        QTreeWidgetItem* group =
            add_group(QString::fromStdString(channel->name),
                      channel_colour(QString::fromStdString(channel->colour), index), index,
                      channel->measured.size());
        for (const Position& position : channel->measured) {
            add_curve_row(*group, position);
        }
        group->setExpanded(index == session_.selection().channel || study.channels.size() <= 4);
        ++index;
    }
    if (!loose.empty()) {
        QTreeWidgetItem* group = add_group(tr("of no channel"), theme().soft, -1, loose.size());
        for (const Position& position : loose) {
            add_curve_row(*group, position);
        }
        group->setExpanded(true);
    }
    fit_columns(*tree_, {1, 2});
    tree_->setCurrentItem(row_of(session_.curve_in_hand().id()));
    filling_ = false;
    alone_->setEnabled(curve_of(study, session_.curve_in_hand().id()) != nullptr);
    together_->setEnabled(lanes_.curves().alone().has_value());
}

// A channel's row selects the channel, a curve's takes it in hand. Later than the tree's own
// signal, which still uses the rows that are made anew.
void PositionsPane::take_click(QTreeWidgetItem* item, int) {
    if (item == nullptr) {
        return;
    }
    const int channel = item->data(0, channel_role).toInt();
    const std::string curve = item->data(0, curve_role).toString().toStdString();
    QMetaObject::invokeMethod(
        this,
        [this, channel, curve] {
            if (channel >= 0) {
                session_.select_channel(channel);
            }
            if (!curve.empty()) {
                session_.curve_in_hand().take(curve);
            }
        },
        Qt::QueuedConnection);
}

void PositionsPane::take_weight(const QTreeWidgetItem* item) {
    if (filling_) {
        return;
    }
    const std::string id = item->data(0, curve_role).toString().toStdString();
    const int channel = item->data(0, channel_role).toInt();
    const auto weight = number_from_text(item->text(weight_column).trimmed().toStdString());
    // Later than the tree's signal: it is filled anew, and its editor is still open.
    QMetaObject::invokeMethod(
        this,
        [this, id, channel, weight] {
            if (weight && *weight >= 0) {
                weigh_position(session_, id, channel, *weight);
            }
            seen_.reset(); // what was typed and not taken must not stay
            refresh();
        },
        Qt::QueuedConnection);
}

void PositionsPane::take_check(QTreeWidgetItem* item) {
    const std::string id = item->data(0, curve_role).toString().toStdString();
    const Curve* curve = curve_of(session_.study(), id);
    if (filling_ || curve == nullptr) {
        return;
    }
    const bool wanted = item->checkState(0) == Qt::Checked;
    if (wanted == lanes_.curves().is_shown(curve_key(*curve))) {
        return;
    }
    QMetaObject::invokeMethod(
        this,
        [this, key = curve_key(*curve), wanted] {
            lanes_.show_curve(key, wanted);
            refresh();
        },
        Qt::QueuedConnection);
}

} // namespace syntonon
