// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/positions_pane.h"

#include "app/model/curve_commands.h"
#include "app/model/measure_commands.h"
#include "app/model/measured_in_view.h"
#include "app/plot/lane_stack.h"
#include "app/plot/measured_curves.h"
#include "app/widgets/colour_icon.h"
#include "app/widgets/fitted_columns.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/curve/recording_check.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>
#include <QShortcut>
#include <QStyledItemDelegate>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int weight_column = 1;
constexpr int noise_column = 2;
constexpr int position_curve_role = Qt::UserRole, position_channel_role = Qt::UserRole + 1,
              lane_key_role = Qt::UserRole + 2, average_role = Qt::UserRole + 3,
              noise_role = Qt::UserRole + 4, bound_role = Qt::UserRole + 5;

// A bar as long as the signal stands above the noise, to 80 dB, and the number.
class NoiseBar : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        QStyledItemDelegate::paint(painter, option, index);
        const QVariant db = index.data(noise_role);
        if (!db.isValid()) {
            return;
        }
        constexpr double full_db = 80;
        constexpr int number = 48, tall = 6;
        const QRect room = option.rect.adjusted(6, 0, -number, 0);
        const QRect bar(room.left(), room.center().y() - tall / 2, room.width(), tall);
        painter->fillRect(bar, theme().grid);
        const double share = std::clamp(db.toDouble() / full_db, 0.0, 1.0);
        painter->fillRect(QRect(bar.left(), bar.top(), static_cast<int>(share * bar.width()), tall),
                          index.data(bound_role).toBool()            ? theme().measured
                          : db.toDouble() < least_signal_to_noise_db ? theme().not_met
                                                                     : theme().ink);
    }
};

// Without the channel's own name at its front.
QString name_within(const QString& curve, const QString& channel) {
    if (!curve.startsWith(channel, Qt::CaseInsensitive) || curve.size() <= channel.size()) {
        return curve;
    }
    const QString rest = curve.mid(channel.size());
    static const QRegularExpression parting(QStringLiteral("^[ ,;_-]+"));
    return parting.match(rest).hasMatch() ? QString(rest).remove(parting) : curve;
}

bool is_noisy(const std::optional<BandNoise>& worst) {
    return worst && !worst->at_least && worst->signal_to_noise_db < least_signal_to_noise_db;
}

QString level_of(const Curve& curve) {
    const auto mean = mean_level_db(curve, 200, 5000);
    return mean ? QString::fromStdString(signed_text(*mean, 1)) + QObject::tr(" dB")
                : QStringLiteral("–");
}

} // namespace

PositionsPane::PositionsPane(Session& session, LaneStack& lanes, QWidget* parent)
    : QWidget(parent), session_(session), lanes_(lanes), tree_(new QTreeWidget), said_(new QLabel),
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
    tree_->setHeaderLabels({tr("position"), tr("weight"), tr("above noise")});
    tree_->setItemDelegateForColumn(noise_column, new NoiseBar(tree_));
    for (const int numbers : {weight_column, noise_column}) {
        tree_->headerItem()->setTextAlignment(numbers, Qt::AlignRight | Qt::AlignVCenter);
    }
    tree_->header()->setStretchLastSection(false);
    tree_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    tree_->setFrameShape(QFrame::NoFrame);
    tree_->setIndentation(14);
    tree_->setTextElideMode(Qt::ElideMiddle);
    tree_->setAccessibleName(tr("Measured positions"));
    tree_->setToolTip(tr("The tick shows a curve on the lanes; a click takes it in hand"));
    column->addWidget(tree_, 1);
    said_->setWordWrap(true);
    said_->setFont(text_font(11));
    said_->hide();
    column->addWidget(said_);
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
        if (const QVariant average = item->data(0, average_role); average.isValid()) {
            QMetaObject::invokeMethod(
                this,
                [this, of = static_cast<AverageOf>(average.toInt())] {
                    choose_average(session_, of);
                },
                Qt::QueuedConnection);
            return;
        }
        if (at == weight_column && !item->data(0, position_curve_role).toString().isEmpty()
            && item->data(0, position_channel_role).toInt() >= 0) {
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

QTreeWidgetItem* PositionsPane::make_group(const QString& name, const QColor& colour, int channel,
                                           std::size_t count) {
    const QString positions = count == 1   ? tr("1 position")
                              : count == 0 ? tr("not measured")
                                           : tr("%1 positions").arg(count);
    auto* group = new QTreeWidgetItem({QStringLiteral("%1 · %2").arg(name, positions)});
    group->setToolTip(0, group->text(0));
    group->setIcon(0, colour_icon(colour, Patch::square));
    QFont bold = tree_->font();
    bold.setWeight(QFont::DemiBold);
    group->setFont(0, bold);
    group->setData(0, position_channel_role, channel);
    return group;
}

void PositionsPane::add_curve_row(QTreeWidgetItem& group, const Position& position) {
    const Study& study = session_.study();
    const Curve* curve = curve_of(study, position.curve);
    auto* row = new QTreeWidgetItem(&group);
    row->setData(0, position_channel_role, group.data(0, position_channel_role));
    if (curve == nullptr) {
        row->setText(0, tr("%1 (missing)").arg(QString::fromStdString(position.curve)));
        row->setForeground(0, theme().not_met);
        row->setToolTip(0, tr("The study has no curve of this name: import it or choose another"));
        return;
    }
    const bool in_hand = curve->id == session_.curve_in_hand().id();
    const int of_channel = group.data(0, position_channel_role).toInt();
    const QString channel =
        of_channel >= 0
            ? QString::fromStdString(study.channels[static_cast<std::size_t>(of_channel)]->name)
            : QString();
    row->setText(0, name_within(QString::fromStdString(curve->name), channel));
    row->setToolTip(0, tr("%1: %2 on average from 200 Hz to 5 kHz")
                           .arg(QString::fromStdString(curve->name), known_level_of(*curve)));
    show_noise(*row, *curve);
    row->setText(1, QString::number(position.weight, 'g', 3));
    row->setIcon(0,
                 colour_icon(in_hand ? theme().copper : curve_colour(study, *curve), Patch::disc));
    row->setFlags(row->flags() | Qt::ItemIsUserCheckable | Qt::ItemIsEditable);
    row->setToolTip(weight_column, tr("A double click or Enter changes the weight"));
    row->setCheckState(0,
                       lanes_.curves().is_shown(curve_key(*curve)) ? Qt::Checked : Qt::Unchecked);
    row->setData(0, position_curve_role, QString::fromStdString(curve->id));
    row->setData(0, lane_key_role, curve_key(*curve));
    row->setTextAlignment(weight_column, Qt::AlignRight | Qt::AlignVCenter);
}

// What the set comes to, in three ways; one of them is the channel's measured curve.
void PositionsPane::add_average_rows(QTreeWidgetItem& group, const Channel& channel) {
    const auto add = [&](const QString& name, const QString& key, const QString& tip) {
        auto* row = new QTreeWidgetItem(&group, {name});
        row->setData(0, position_channel_role, group.data(0, position_channel_role));
        row->setData(0, lane_key_role, key);
        row->setToolTip(0, tip);
        row->setFlags(row->flags() | Qt::ItemIsUserCheckable);
        row->setCheckState(0, lanes_.curves().is_shown(key) ? Qt::Checked : Qt::Unchecked);
        return row;
    };
    for (const AverageOf of : {AverageOf::power, AverageOf::level, AverageOf::vectors}) {
        QTreeWidgetItem* row = add(name_of(of), average_key(of), capitalised(explained(of)));
        const bool used = of == channel.average;
        row->setData(0, average_role, static_cast<int>(of));
        row->setText(0, used ? tr("%1 · used").arg(name_of(of)) : name_of(of));
        row->setToolTip(0, capitalised(explained(of)) + QStringLiteral(". ")
                               + (used ? tr("The chain works on this one")
                                       : tr("A double click or Enter lets the chain work on it")));
        row->setIcon(0, colour_icon(used ? theme().ink : theme().plum, Patch::disc));
        QFont font = tree_->font();
        font.setWeight(used ? QFont::DemiBold : QFont::Normal);
        row->setFont(0, font);
    }
    add(tr("spread"), QStringLiteral("spread"),
        tr("From the lowest to the highest of the positions that count"))
        ->setIcon(0, colour_icon(theme().measured, Patch::square));
}

void PositionsPane::show_noise(QTreeWidgetItem& row, const Curve& curve) {
    const auto measured = impulse_of(&curve);
    if (!measured) {
        return;
    }
    const auto found = std::ranges::find_if(
        noise_, [&](const Noise& noise) { return noise.of.same_as(*measured); });
    if (found == noise_.end() || !found->worst) {
        return;
    }
    row.setData(noise_column, noise_role, found->worst->signal_to_noise_db);
    row.setText(noise_column, (found->worst->at_least ? QStringLiteral("≥") : QString())
                                  + tr("%1 dB").arg(std::lround(found->worst->signal_to_noise_db)));
    row.setTextAlignment(noise_column, Qt::AlignRight | Qt::AlignVCenter);
    row.setData(noise_column, bound_role, found->worst->at_least);
    if (is_noisy(found->worst)) {
        row.setForeground(noise_column, theme().not_met);
    }
    row.setToolTip(noise_column,
                   (found->worst->at_least
                        ? tr("At %1; it ends before the noise is reached, so it may be more")
                        : tr("At %1, the worst octave from 63 Hz to 8 kHz"))
                       .arg(shown_words(frequency_text(found->worst->centre_hz, 2))));
}

// Beside the window: it takes transforms of each.
void PositionsPane::work_out_noise() {
    std::vector<SharedValue<Measurement>> unknown;
    std::vector<Noise> kept;
    for (const auto& curve : session_.study().curves) {
        const auto measured = impulse_of(&*curve);
        if (!measured) {
            continue;
        }
        const auto found = std::ranges::find_if(
            noise_, [&](const Noise& noise) { return noise.of.same_as(*measured); });
        if (found != noise_.end()) {
            kept.push_back(*found);
        } else {
            unknown.push_back(*measured);
        }
    }
    noise_ = std::move(kept);
    if (unknown.empty() || work_.is_busy()) {
        return;
    }
    work_.begin(
        [unknown](const Watch& watch) {
            std::vector<Noise> made;
            for (const auto& measured : unknown) {
                const auto worst = worst_noise(measured->impulse);
                if (watch.is_stopped()) {
                    break;
                }
                made.push_back({measured, worst});
            }
            return made;
        },
        [this](std::vector<Noise> made) {
            noise_.insert(noise_.end(), made.begin(), made.end());
            seen_.reset();
            refresh();
        });
}

void PositionsPane::say_what_there_is() {
    QStringList doubts;
    for (const auto& channel : session_.study().channels) {
        for (const Position& position : channel->measured) {
            const Curve* curve = curve_of(session_.study(), position.curve);
            const auto measured = impulse_of(curve);
            const auto found = std::ranges::find_if(noise_, [&](const Noise& noise) {
                return measured && noise.of.same_as(*measured);
            });
            if (found != noise_.end() && is_noisy(found->worst) && position.weight > 0) {
                doubts
                    << tr("%1 stands only %2 dB above the noise at %3. Measure it again, or give "
                          "it the weight 0.")
                           .arg(QString::fromStdString(curve->name))
                           .arg(std::lround(found->worst->signal_to_noise_db))
                           .arg(shown_words(frequency_text(found->worst->centre_hz, 2)));
            }
        }
    }
    constexpr qsizetype most = 3;
    const qsizetype more = doubts.size() - most;
    if (more > 0) {
        doubts = doubts.mid(0, most);
        doubts << tr("%1 more").arg(more);
    }
    const bool is_empty = session_.study().curves.empty();
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, is_empty ? theme().soft : theme().not_met);
    said_->setPalette(colours);
    said_->setText(is_empty ? tr("Nothing is measured yet: drop responses or recordings on the "
                                 "window, or measure with a sweep.")
                            : doubts.join('\n'));
    said_->setVisible(!said_->text().isEmpty());
}

QString PositionsPane::said() const {
    return said_->text();
}

QTreeWidgetItem* PositionsPane::row_of(const std::string& curve) const {
    for (int g = 0; g < tree_->topLevelItemCount() && !curve.empty(); ++g) {
        QTreeWidgetItem* group = tree_->topLevelItem(g);
        for (int i = 0; i < group->childCount(); ++i) {
            if (group->child(i)->data(0, position_curve_role).toString()
                == QString::fromStdString(curve)) {
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
    levels_.clear();
    show_groups(make_groups());
    constexpr int weight_width = 48, noise_width = 92; // names have what is left
    tree_->setColumnWidth(weight_column, weight_width);
    tree_->setColumnWidth(noise_column, noise_width);
    work_out_noise();
    say_what_there_is();
    tree_->setCurrentItem(row_of(session_.curve_in_hand().id()));
    filling_ = false;
    alone_->setEnabled(curve_of(session_.study(), session_.curve_in_hand().id()) != nullptr);
    together_->setEnabled(lanes_.curves().alone().has_value());
}

// Not yet in the tree, which would lay all of them out for each one.
QList<QTreeWidgetItem*> PositionsPane::make_groups() {
    const Study& study = session_.study();
    QList<QTreeWidgetItem*> groups;
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
            make_group(QString::fromStdString(channel->name),
                       channel_colour(QString::fromStdString(channel->colour), index), index,
                       channel->measured.size());
        for (const Position& position : channel->measured) {
            add_curve_row(*group, position);
        }
        if (channel->measured.size() > 1 && index == session_.selection().channel) {
            add_average_rows(*group, *channel);
        }
        groups << group;
        ++index;
    }
    if (!loose.empty()) {
        QTreeWidgetItem* group = make_group(tr("of no channel"), theme().soft, -1, loose.size());
        for (const Position& position : loose) {
            add_curve_row(*group, position);
        }
        groups << group;
    }
    return groups;
}

void PositionsPane::show_groups(const QList<QTreeWidgetItem*>& groups) {
    tree_->clear();
    tree_->addTopLevelItems(groups);
    constexpr int few = 4;
    for (QTreeWidgetItem* group : groups) {
        group->setFirstColumnSpanned(true);
        for (int i = 0; i < group->childCount(); ++i) {
            const bool is_position = group->child(i)->data(0, position_curve_role).isValid();
            group->child(i)->setFirstColumnSpanned(!is_position);
        }
        const int channel = group->data(0, position_channel_role).toInt();
        const bool is_loose = channel < 0;
        if (is_loose || channel == session_.selection().channel
            || session_.study().channels.size() <= few) {
            group->setExpanded(true);
        }
    }
}

// Channels may share curves, and reading one takes a while.
QString PositionsPane::known_level_of(const Curve& curve) {
    const auto [at, is_new] = levels_.try_emplace(&curve);
    if (is_new) {
        at->second = level_of(curve);
    }
    return at->second;
}

// A channel's row selects the channel, a curve's takes it in hand. Later than the tree's own
// signal, which still uses the rows that are made anew.
void PositionsPane::take_click(QTreeWidgetItem* item, int) {
    if (item == nullptr) {
        return;
    }
    const int channel = item->data(0, position_channel_role).toInt();
    const std::string curve = item->data(0, position_curve_role).toString().toStdString();
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
    const std::string id = item->data(0, position_curve_role).toString().toStdString();
    const int channel = item->data(0, position_channel_role).toInt();
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
    const QString row_key = item->data(0, lane_key_role).toString();
    if (filling_ || row_key.isEmpty()) {
        return;
    }
    const bool wanted = item->checkState(0) == Qt::Checked;
    if (wanted == lanes_.curves().is_shown(row_key)) {
        return;
    }
    QMetaObject::invokeMethod(
        this,
        [this, key = row_key, wanted] {
            lanes_.show_curve(key, wanted);
            refresh();
        },
        Qt::QueuedConnection);
}

} // namespace syntonon
