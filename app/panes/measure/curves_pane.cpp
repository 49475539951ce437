// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/curves_pane.h"

#include "app/model/curve_commands.h"
#include "app/plot/measured_curves.h"
#include "app/widgets/colour_icon.h"
#include "app/widgets/fitted_columns.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QColorDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {

CurvesPane::CurvesPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget),
      rename_(new QPushButton(tr("Rename"))), colour_(new QPushButton(tr("Colour…"))),
      give_(new QPushButton(tr("Channels"))), remove_(new QPushButton(tr("Remove"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    set_up_rows(*table_, {tr("channel"), tr("position"), tr("points"), tr("range"), tr("level"),
                          tr("from")});
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->horizontalHeader()->setMinimumSectionSize(44);
    title_numbers(*table_, {points, level});
    table_->setShowGrid(false);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    table_->setWordWrap(false);
    table_->setAccessibleName(tr("Curves of the study"));
    table_->setToolTip(tr("A double click on the position renames the curve"));
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    for (QPushButton* button : {rename_, colour_, give_, remove_}) {
        row->addWidget(button);
    }
    row->addStretch(1);
    column->addLayout(row);
    auto* choice = new QMenu(give_);
    connect(choice, &QMenu::aboutToShow, this, [this, choice] { fill_channels(*choice); });
    give_->setMenu(choice);
    give_->setToolTip(tr("Which channels have this curve as a position"));
    follow();
}

void CurvesPane::follow() {
    connect(rename_, &QPushButton::clicked, this, [this] {
        QTableWidgetItem* name = table_->item(table_->currentRow(), position);
        // A second click finds the editor open.
        if (name != nullptr && !table_->isPersistentEditorOpen(name)) {
            table_->setFocus();
            table_->editItem(name);
        }
    });
    connect(colour_, &QPushButton::clicked, this, &CurvesPane::choose_colour);
    connect(remove_, &QPushButton::clicked, this, [this] {
        remove_curve(session_, QString::fromStdString(session_.curve_in_hand().id()));
    });
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int current) {
        if (!filling_ && current >= 0) {
            const auto& curves = session_.study().curves;
            session_.curve_in_hand().take(curves[static_cast<std::size_t>(current)]->id);
        }
    });
    connect(table_, &QTableWidget::cellChanged, this, [this](int at, int changed) {
        if (!filling_ && changed == position) {
            const std::string id = session_.study().curves[static_cast<std::size_t>(at)]->id;
            // Later than the table's signal: it is filled anew, and its editor is still open.
            QMetaObject::invokeMethod(
                this,
                [this, id, name = table_->item(at, position)->text()] {
                    rename_curve(session_, id, name);
                    refresh();
                },
                Qt::QueuedConnection);
        }
    });
    connect(&session_, &Session::study_changed, this, &CurvesPane::refresh);
    connect(&session_.curve_in_hand(), &CurveInHand::changed, this, &CurvesPane::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &CurvesPane::refresh);
}

void CurvesPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

QString CurvesPane::channels_of(const Curve& curve) const {
    QStringList names;
    for (const auto& channel : session_.study().channels) {
        if (is_position_of(*channel, curve.id)) {
            names << QString::fromStdString(channel->name);
        }
    }
    return names.isEmpty() ? QStringLiteral("–") : names.join(QStringLiteral(", "));
}

void CurvesPane::fill_row(int row, const Curve& curve) {
    const auto [low, high] = std::ranges::minmax_element(curve.magnitude_db);
    const auto mean = mean_level_db(curve, 200, 5000);
    const QString text[] = {
        channels_of(curve),
        QString::fromStdString(curve.name),
        QString::number(curve.frequency_hz.size()),
        tr("%1–%2").arg(QString::fromStdString(frequency_text(curve.low_hz())),
                        QString::fromStdString(frequency_text(curve.high_hz()))),
        mean ? QString::fromStdString(signed_text(*mean, 1)) + tr(" dB") : QStringLiteral("–"),
        curve.source.empty() ? tr("the study") : QString::fromStdString(curve.source),
    };
    for (int column = 0; column < table_->columnCount(); ++column) {
        if (table_->item(row, column) == nullptr) {
            table_->setItem(row, column, new QTableWidgetItem);
        }
        QTableWidgetItem* item = table_->item(row, column);
        item->setText(text[column]);
        item->setToolTip(text[column]);
        item->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled
                       | (column == position ? Qt::ItemIsEditable : Qt::NoItemFlags));
        const bool number = column == points || column == level;
        item->setTextAlignment((number ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    }
    table_->item(row, level)
        ->setToolTip(tr("%1 on average from 200 Hz to 5 kHz; %2 to %3 dB, %4")
                         .arg(text[level], QString::fromStdString(signed_text(*low, 1)),
                              QString::fromStdString(signed_text(*high, 1)),
                              curve.has_phase() ? tr("with phase") : tr("without phase")));
    table_->item(row, position)
        ->setIcon(colour_icon(curve_colour(session_.study(), curve), Patch::square));
}

void CurvesPane::refresh() {
    if (isVisible()) {
        fill();
    }
}

void CurvesPane::fill() {
    const Seen now{session_.study(), session_.curve_in_hand().id(), theme().name};
    if (now == seen_) {
        return;
    }
    seen_ = now;
    filling_ = true;
    const auto& curves = session_.study().curves;
    table_->setRowCount(static_cast<int>(curves.size()));
    int current = -1;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const Curve& curve = *curves[static_cast<std::size_t>(row)];
        fill_row(row, curve);
        current = curve.id == session_.curve_in_hand().id() ? row : current;
    }
    table_->setCurrentCell(current, position);
    constexpr int widest = 170;
    fit_columns(*table_, {channels, position, points, range, level}, widest);
    filling_ = false;
    for (QPushButton* needs_curve : {rename_, colour_, give_, remove_}) {
        needs_curve->setEnabled(current >= 0);
    }
}

void CurvesPane::fill_channels(QMenu& menu) {
    menu.clear();
    const std::string id = session_.curve_in_hand().id();
    int index = 0;
    for (const auto& channel : session_.study().channels) {
        QAction* action = menu.addAction(QString::fromStdString(channel->name));
        action->setCheckable(true);
        action->setChecked(is_position_of(*channel, id));
        connect(action, &QAction::triggered, this,
                [this, id, index](bool on) { assign_curve(session_, id, index, on); });
        ++index;
    }
}

void CurvesPane::choose_colour() {
    const std::string id = session_.curve_in_hand().id();
    const Curve* curve = curve_of(session_.study(), id);
    if (curve == nullptr) {
        return;
    }
    const QColor chosen = QColorDialog::getColor(curve_colour(session_.study(), *curve), this,
                                                 tr("Colour of the curve"));
    if (chosen.isValid()) {
        recolour_curve(session_, id, chosen.name());
    }
}

} // namespace syntonon
