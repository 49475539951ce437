// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/fit_seats_pane.h"

#include "app/model/fitter.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"

#include <QLabel>
#include <QVBoxLayout>

namespace syntonon {
namespace {

void put_errors(QTableWidget& table, int row, const QString& name,
                const FitFigures::Errors& errors) {
    const auto& [before, after] = errors;
    table.setItem(row, 0, text_cell(name, false));
    const QStringList numbers{fixed_number(before.rms_db, 2), fixed_number(after.rms_db, 2),
                              fixed_number(before.worst_db, 1), fixed_number(after.worst_db, 1),
                              QString::fromStdString(frequency_text(after.worst_hz))};
    for (int column = 0; column < numbers.size(); ++column) {
        auto* cell = text_cell(numbers[column], true);
        const bool is_worse =
            column == 1
            && fixed_number(after.rms_db, 2).toDouble() > fixed_number(before.rms_db, 2).toDouble();
        if (is_worse) {
            cell->setForeground(theme().not_met);
            cell->setToolTip(QObject::tr("Worse than it was"));
        }
        table.setItem(row, column + 1, cell);
    }
}

} // namespace

FitSeatsPane::FitSeatsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget), words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 4, 4, 6);
    column->setSpacing(4);
    column->addWidget(table_, 1);
    column->addWidget(words_);
    set_up_rows(*table_,
                {tr("position"), tr("rms"), tr("then"), tr("worst"), tr("then"), tr("at")});
    title_numbers(*table_, {1, 2, 3, 4, 5});
    set_up_reading(*table_, beside_page);
    table_->setAccessibleName(tr("Errors at each position"));
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (const int wide : {1, 2, 3, 4, 5}) {
        table_->setColumnWidth(wide, wide == 5 ? 70 : 50);
    }
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    words_->setMargin(beside_page);
    words_->setForegroundRole(QPalette::PlaceholderText);
    connect(&session_.fitter(), &Fitter::changed, this, &FitSeatsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &FitSeatsPane::refresh);
    refresh();
}

QString FitSeatsPane::words() const {
    return words_->text();
}

void FitSeatsPane::refresh() {
    const Stage* stage = session_.stage();
    const auto state = stage != nullptr ? session_.fitter().state_of(stage->id) : nullptr;
    if (state == nullptr || !state->figures) {
        table_->setRowCount(0);
        words_->setText(state == nullptr
                            ? QString()
                            : QString::fromStdString(state->figures.error().reason + "; "
                                                     + state->figures.error().way_out));
        return;
    }
    const auto& positions = state->figures->positions;
    const bool are_several = positions.size() > 1;
    table_->setRowCount(are_several ? static_cast<int>(positions.size()) + 1 : 1);
    put_errors(*table_, 0,
               are_several || state->position_names.empty() ? tr("All together")
                                                            : state->position_names.front(),
               state->figures->together);
    for (std::size_t i = 0; are_several && i < positions.size(); ++i) {
        put_errors(*table_, static_cast<int>(i) + 1,
                   i < state->position_names.size() ? state->position_names[i] : QString(),
                   positions[i]);
    }
    words_->setText(tr("Errors in dB about the target in the correction's range, without it and "
                       "with it; each position raised to the level of all."));
}

} // namespace syntonon
