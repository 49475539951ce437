// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/weights_pane.h"

#include "app/model/selected_fir.h"
#include "app/model/way_commands.h"
#include "app/model/weight_commands.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/study/wished.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

namespace syntonon {
namespace {

constexpr int round_height = 18;

// Nothing but the bands and the goal.
FirSpec without_weights(FirSpec spec) {
    spec.wish.weights.clear();
    return spec;
}

} // namespace

WeightsPane::WeightsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), hug_(new QPushButton(tr("Hug the corridor"))),
      clear_(new QPushButton(tr("Clear"))), lane_(new QPushButton(tr("Draw…"))), words_(new QLabel),
      table_(new QTableWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 8, 0);
    column->setSpacing(4);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    for (QPushButton* button : {hug_, lane_, clear_}) {
        buttons->addWidget(button);
    }
    buttons->addStretch(1);
    column->addLayout(buttons);
    column->addWidget(words_);
    column->addWidget(table_, 1);
    words_->setFont(text_font(11));
    words_->setForegroundRole(QPalette::PlaceholderText);
    words_->setWordWrap(true);
    hug_->setToolTip(
        tr("Finds weights that leave the greatest worst margin to the goal's corridor"));
    lane_->setToolTip(tr("Shows the lane on which the weights are drawn by hand:\n"
                         "a double click makes a point, Delete removes it"));
    clear_->setToolTip(tr("Errors count by the bands or the goal alone"));
    set_up_rows(*table_, {tr("round"), tr("worst margin dB"), tr("where")}, round_height);
    title_numbers(*table_, {0, 1, 2});
    set_up_reading(*table_);
    table_->setFont(text_font(11));
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->setAccessibleName(tr("Rounds of the search for weights"));
    connect(hug_, &QPushButton::clicked, this, [this] {
        if (is_busy()) {
            stop_.stop();
        } else {
            hug();
        }
    });
    connect(lane_, &QPushButton::clicked, this, [this] {
        begin_fir_weights(session_);
        emit lane_wanted();
    });
    connect(clear_, &QPushButton::clicked, this, [this] {
        session_.edit_stage(tr("Clear the weights of the FIR"), [](Stage& stage) {
            std::get<FirSpec>(stage.spec.edit()).wish.weights.clear();
        });
    });
    connect(&session_, &Session::analysis_changed, this, &WeightsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &WeightsPane::refresh);
    refresh();
}

bool WeightsPane::is_there(const Session& session) {
    const FirSpec* spec = selected_fir(session);
    return spec != nullptr && weighs_errors(*spec);
}

QString WeightsPane::words() const {
    return words_->text();
}

void WeightsPane::show_words(const QString& text) {
    words_->setText(text);
    words_->setVisible(!text.isEmpty());
}

void WeightsPane::refresh() {
    const FirSpec* spec = selected_fir(session_);
    const auto analysis = session_.analysis();
    const bool is_another = spec == nullptr || session_.selection().stage != stage_
                            || begun_with_ != *spec || analysis == nullptr
                            || analysis->goal != goal_;
    if (is_busy() && is_another) {
        give_up(); // another filter, or another corridor
    }
    hug_->setText(is_busy() ? tr("Stop") : tr("Hug the corridor"));
    const bool has_weights = spec != nullptr && !spec->wish.weights.empty();
    clear_->setEnabled(has_weights && !is_busy());
    if (is_another) { // else what was said and found stands
        table_->setRowCount(0);
        show_words(has_weights
                       ? tr("%1 points of weight, beside those of the bands or the goal")
                             .arg(spec->wish.weights.size())
                       : tr("Errors count by the bands or the goal alone. Draw weights on their "
                            "lane, or let them be found so that the corridor is filled evenly."));
    }
}

void WeightsPane::hug() {
    const FirSpec* spec = selected_fir(session_);
    const auto analysis = session_.analysis();
    if (spec == nullptr || analysis == nullptr) {
        return;
    }
    table_->setRowCount(0);
    begun_with_ = *spec;
    goal_ = analysis->goal;
    stage_ = session_.selection().stage;
    if (goal_ == nullptr) {
        show_words(tr("the channel has no goal; choose or draw one (Goal pane)"));
        return;
    }
    stop_ = Watch();
    const QPointer<WeightsPane> self(this);
    const auto tell = [self, watch = stop_](const HugRound& round) {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [self, watch, round] {
                if (self != nullptr && self->is_busy() && !watch.is_stopped()) {
                    self->add_round(round);
                }
            },
            Qt::QueuedConnection);
    };
    work_.begin([asked = without_weights(*spec),
                 brief = brief_for(*analysis->goal, session_.axis()), watch = stop_,
                 tell](const Watch&) { return hug_corridor(asked, brief, watch, tell); },
                [this](const Expected<HugRound>& found) { end(found); });
    show_words(tr("being found …"));
    refresh();
}

void WeightsPane::add_round(const HugRound& round) {
    const int row = table_->rowCount();
    table_->setRowCount(row + 1);
    table_->setItem(row, 0, text_cell(QString::number(row + 1), true));
    table_->setItem(row, 1, text_cell(fixed_number(round.worst_margin_db, 3), true));
    table_->setItem(row, 2,
                    text_cell(QString::fromStdString(frequency_text(round.worst_hz, 4)), true));
    table_->scrollToBottom();
    if (const auto chain =
            chain_with(session_, StageSpec(*begun_with_), Filter(Taps(round.taps)))) {
        session_.glimpse().hold(session_.channel()->id, tr("round %1").arg(row + 1), *chain);
    }
}

void WeightsPane::end(const Expected<HugRound>& found) {
    session_.glimpse().end();
    if (!found) {
        show_words(QString::fromStdString(to_text(found.error())));
        refresh();
        return;
    }
    if (table_->rowCount() == 0
        || table_->item(table_->rowCount() - 1, 1)->text()
               != fixed_number(found->worst_margin_db, 3)) {
        add_round(*found);
        session_.glimpse().end();
    }
    const double margin = found->worst_margin_db;
    show_words(
        (margin < 0 ? tr("%1 dB over at worst, near %2") : tr("%1 dB to spare at worst, near %2"))
            .arg(fixed_number(std::abs(margin), 3),
                 QString::fromStdString(frequency_text(found->worst_hz, 4))));
    begun_with_->wish.weights = found->weights; // that is what the rows tell of now
    session_.edit_stage(tr("Hug the corridor"), [&](Stage& stage) {
        std::get<FirSpec>(stage.spec.edit()).wish.weights = found->weights;
    });
    refresh();
}

void WeightsPane::give_up() {
    stop_.stop();
    work_.stop();
    session_.glimpse().end();
    table_->setRowCount(0);
}

void WeightsPane::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    if (is_busy()) {
        give_up();
        refresh();
    }
}

} // namespace syntonon
