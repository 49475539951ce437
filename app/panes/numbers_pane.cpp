// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/numbers_pane.h"

#include "app/widgets/copied_cells.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/filter/form.h"
#include "core/study/kinds.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <algorithm>
#include <vector>

namespace syntonon {
namespace {

// Of the stages that make up the chain those that are designed, or are being so.
std::vector<std::size_t> places_with_numbers(const Channel& channel,
                                             const ChannelAnalysis& analysis) {
    const auto counting = stages_that_count(channel.stages);
    std::vector<std::size_t> places;
    for (std::size_t i = 0; i < channel.stages.size(); ++i) {
        const StageAnalysis* designed = analysis.stage(channel.stages[i]->id);
        if (std::ranges::count(counting, &*channel.stages[i]) > 0 && designed != nullptr
            && (designed->filter || designed->is_waiting)) {
            places.push_back(i);
        }
    }
    return places;
}

// Coefficients that fit no section, each with its index: a recursion's as they were written where
// its order is above 2, and taps. Of more than a page of them the summary says enough.
std::optional<Coefficients> indexed_coefficients(const Stage& stage, const Filter& filter,
                                                 double sample_rate_hz) {
    constexpr std::size_t most = 1024, of_a_section = 3;
    Coefficients found;
    if (const auto* recursion = std::get_if<RecursionSpec>(&*stage.spec)) {
        found = coefficients_of(*recursion, sample_rate_hz).value_or(Coefficients());
        if (std::max(found.numerator.size(), found.denominator.size()) <= of_a_section
            && filter.sections()) {
            return std::nullopt;
        }
    } else if (const auto* taps = std::get_if<Taps>(&filter.form())) {
        found = {{taps->values().begin(), taps->values().end()}, {1}};
    }
    const bool is_readable = !found.numerator.empty() && found.numerator.size() <= most;
    return is_readable ? std::optional(found) : std::nullopt;
}

constexpr int shown_digits = 7, all_digits = 17;

void add_indexed(char letter, const std::vector<double>& values, std::size_t first,
                 std::vector<NumbersPane::Numbers>& rows) {
    for (std::size_t k = first; k < values.size(); ++k) {
        rows.push_back({{QStringLiteral("%1%2 = %3")
                             .arg(letter)
                             .arg(k)
                             .arg(shown_number(values[k], shown_digits))},
                        {QString::fromStdString(text_with_digits(values[k], all_digits))}});
    }
}

std::vector<NumbersPane::Numbers> numbers_of(const Stage& stage, const StageAnalysis& designed,
                                             double sample_rate_hz) {
    if (designed.is_waiting) {
        return {{{QObject::tr("being designed…")}, {}}};
    }
    std::vector<NumbersPane::Numbers> rows;
    if (const auto all = indexed_coefficients(stage, *designed.filter, sample_rate_hz)) {
        const bool is_normal = !all->denominator.empty() && all->denominator[0] == 1;
        add_indexed('b', all->numerator, 0, rows);
        add_indexed('a', all->denominator, is_normal ? 1 : 0, rows);
        return rows;
    }
    const auto cascade = designed.filter->sections();
    if (!cascade) {
        return {{{QString::fromStdString(summary_of(stage))}, {}}};
    }
    for (const Biquad& s : cascade->sections) {
        NumbersPane::Numbers numbers;
        for (const double c : {s.b0, s.b1, s.b2, s.a1, s.a2}) {
            numbers.cells << shown_number(c, shown_digits);
            numbers.tips << QString::fromStdString(text_with_digits(c, all_digits));
        }
        rows.push_back(numbers);
    }
    return rows;
}

} // namespace

NumbersPane::NumbersPane(Session& session, QWidget* parent)
    : QTableWidget(parent), session_(session) {
    set_up_rows(*this, {tr("stage"), "b0", "b1", "b2", "a1", "a2"});
    title_numbers(*this, {1, 2, 3, 4, 5});
    set_up_reading(*this, beside_page);
    setWordWrap(false);
    setFont(text_font(11)); // five coefficients of seven digits in a row
    setAccessibleName(tr("Coefficients of all sections"));
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    setToolTip(tr("y[n] = b0 x[n] + b1 x[n−1] + b2 x[n−2] − a1 y[n−1] − a2 y[n−2]; Ctrl+C copies"));
    connect(&session_, &Session::analysis_changed, this, &NumbersPane::refresh);
    connect(this, &QTableWidget::cellClicked, this, [this](int row, int) {
        session_.select_stage(item(row, 0)->data(Qt::UserRole).toString().toStdString());
    });
}

void NumbersPane::showEvent(QShowEvent* event) {
    QTableWidget::showEvent(event);
    refresh();
}

void NumbersPane::refresh() {
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    if (!isVisible() || analysis == nullptr || channel == nullptr) {
        return; // filled when it is looked at
    }
    clearSpans();
    int row = 0;
    for (const std::size_t place : places_with_numbers(*channel, *analysis)) {
        const Stage& stage = *channel->stages[place];
        const QString title =
            QStringLiteral("%1 %2").arg(place + 1).arg(QString::fromStdString(title_of(stage)));
        for (const Numbers& numbers :
             numbers_of(stage, *analysis->stage(stage.id), session_.study().sample_rate_hz)) {
            setRowCount(std::max(rowCount(), row + 1));
            put(row++, title, numbers, stage.id);
        }
    }
    setRowCount(row);
}

void NumbersPane::put(int row, const QString& title, const Numbers& numbers,
                      const std::string& stage) {
    for (int column = 0; column < columnCount(); ++column) {
        if (item(row, column) == nullptr) {
            setItem(row, column, new QTableWidgetItem);
        }
        QTableWidgetItem& cell = *item(row, column);
        cell.setText(column == 0 ? title : numbers.cells.value(column - 1));
        cell.setToolTip(column == 0 ? QString() : numbers.tips.value(column - 1));
        cell.setData(Qt::UserRole, QString::fromStdString(stage));
        cell.setTextAlignment((column == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    }
    if (numbers.cells.size() == 1) {
        setSpan(row, 1, 1, columnCount() - 1);
    }
}

void NumbersPane::keyPressEvent(QKeyEvent* event) {
    if (!event->matches(QKeySequence::Copy)) {
        QTableWidget::keyPressEvent(event);
        return;
    }
    copy_chosen_cells(*this);
}

} // namespace syntonon
