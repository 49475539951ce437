// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/levels_pane.h"

#include "app/model/measure_commands.h"
#include "app/widgets/fitted_columns.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

QString db(double value) {
    return QString::fromStdString(signed_text(value, 1)) + QObject::tr(" dB");
}

QString ms(double seconds) {
    return fixed_number(1e3 * seconds, 2) + QObject::tr(" ms");
}

const QString nothing = QStringLiteral("–");

} // namespace

LevelsPane::LevelsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget),
      from_(new QuantityEdit(Dimension::frequency, tr("Hz"))),
      to_(new QuantityEdit(Dimension::frequency, tr("Hz"))),
      align_(new QPushButton(tr("Align by gain and delay"))), said_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 8);
    set_up_rows(*table_,
                {tr("channel"), tr("level"), tr("against all"), tr("arrival"), tr("to align")});
    set_up_reading(*table_, beside_page);
    table_->horizontalHeader()->setSectionResizeMode(name, QHeaderView::Stretch);
    title_numbers(*table_, {level, against_all, arrival, to_align});
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setAccessibleName(tr("Levels and arrivals of the channels"));
    table_->setToolTip(tr("Of what was measured with the channel's chain: the mean level of the "
                          "range, over log frequency, and when the sound arrives at its positions "
                          "on average"));
    column->addWidget(table_, 1);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(16, 0, 16, 0);
    foot->addWidget(new QLabel(tr("level from")));
    for (QuantityEdit* edit : {from_, to_}) {
        constexpr int wide = 76;
        edit->setFixedWidth(wide);
        foot->addWidget(edit);
        if (edit == from_) {
            foot->addWidget(new QLabel(tr("to")));
        }
        connect(edit, &QuantityEdit::value_entered, this, &LevelsPane::take_range);
    }
    from_->setAccessibleName(tr("Levels from"));
    to_->setAccessibleName(tr("Levels to"));
    foot->addStretch(1);
    foot->addWidget(align_);
    column->addLayout(foot);
    said_->setContentsMargins(16, 0, 16, 0);
    said_->setWordWrap(true);
    said_->setFont(text_font(11));
    column->addWidget(said_);
    align_->setToolTip(tr("Adds a gain and a delay to each measured channel, or changes those it "
                          "added before: as loud as the quietest, as late as the latest"));
    connect(align_, &QPushButton::clicked, this, [this] {
        session_.edit(tr("Align channels"), [this](Study& study) { align(study, standings_); });
    });
    connect(&session_, &Session::study_changed, this, &LevelsPane::refresh);
    connect(table_, &QTableWidget::cellClicked, this,
            [this](int row, int) { session_.select_channel(row); });
}

void LevelsPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void LevelsPane::refresh() {
    if (isVisible()) {
        fill();
    }
}

QString LevelsPane::said() const {
    return said_->text();
}

void LevelsPane::take_range() {
    const AlignRange wanted{from_->value().value_or(0), to_->value().value_or(0)};
    const auto ok = check(wanted);
    if (!ok) {
        said_->setText(QStringLiteral("◇ ")
                       + QString::fromStdString(ok.error().reason + ": " + ok.error().way_out));
        return;
    }
    range_ = wanted;
    seen_.reset();
    refresh();
}

void LevelsPane::fill_row(int row, std::optional<double> mean_db) {
    const auto i = static_cast<std::size_t>(row);
    const Channel& channel = *session_.study().channels[i];
    const Standing& standing = standings_[i];
    const bool measured = !channel.measured.empty();
    QStringList to_do;
    if (standing.gain_db) {
        to_do << db(*standing.gain_db);
    }
    if (standing.delay_s) {
        to_do << QStringLiteral("+") + ms(*standing.delay_s);
    }
    const QString text[] = {QString::fromStdString(channel.name),
                            standing.level_db ? db(*standing.level_db)
                            : measured        ? nothing
                                              : tr("not measured"),
                            standing.level_db && mean_db ? db(*standing.level_db - *mean_db)
                                                         : nothing,
                            standing.arrival_s ? ms(*standing.arrival_s) : nothing,
                            to_do.isEmpty() ? nothing : to_do.join(QStringLiteral("  "))};
    for (int column = 0; column < table_->columnCount(); ++column) {
        auto* item = new QTableWidgetItem(text[column]);
        item->setToolTip(measured && !standing.missing.empty()
                             ? QString::fromStdString(standing.missing)
                             : text[column]);
        item->setTextAlignment((column == name ? Qt::AlignLeft : Qt::AlignRight)
                               | Qt::AlignVCenter);
        table_->setItem(row, column, item);
    }
}

void LevelsPane::fill() {
    if (session_.study() == seen_) {
        return;
    }
    seen_ = session_.study();
    const Study& study = session_.study();
    from_->show_value(range_.from_hz);
    to_->show_value(range_.to_hz);
    standings_.clear();
    QStringList missing;
    for (const auto& channel : study.channels) {
        // Whole chains are worked out of measured channels only.
        const bool counts = !channel->measured.empty() && channel->domain == Domain::sampled;
        const auto analysis = counts ? session_.analysis_of(*channel) : nullptr;
        standings_.push_back(standing_of(analysis != nullptr ? analysis->measured : nullptr,
                                         analysis != nullptr ? analysis->chain : Filter(),
                                         axis_of(study, *channel), range_));
        if (counts && !standings_.back().missing.empty()) {
            missing << QString::fromStdString(channel->name + ": " + standings_.back().missing);
        }
    }
    compare(standings_);
    double sum = 0;
    int counted = 0;
    for (const Standing& standing : standings_) {
        sum += standing.level_db.value_or(0);
        counted += standing.level_db ? 1 : 0;
    }
    table_->setRowCount(static_cast<int>(standings_.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        fill_row(row, counted > 0 ? std::optional(sum / counted) : std::nullopt);
    }
    fit_columns(*table_, {level, against_all, arrival, to_align});
    align_->setEnabled(counted > 1);
    said_->setText(missing.isEmpty() ? QString() : QStringLiteral("◇ ") + missing.join("\n◇ "));
    said_->setVisible(!missing.isEmpty());
}

} // namespace syntonon
