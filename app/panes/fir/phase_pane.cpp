// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/phase_pane.h"

#include "app/model/selected_fir.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/filter/form.h"
#include "core/study/kinds.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

namespace syntonon {
namespace {

constexpr std::size_t most_compared = 1 << 18;

QString title_of_form(FirPhase phase, double share) {
    return phase == FirPhase::between
               ? QObject::tr("between, %1").arg(shown_number(share, 3))
               : QString::fromUtf8(
                   named<FirPhase>(names_of_phases(), phase).title.data(),
                   qsizetype(named<FirPhase>(names_of_phases(), phase).title.size()));
}

} // namespace

PhasePane::PhasePane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget), words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 2, 8, 0);
    column->setSpacing(2);
    column->addWidget(table_, 1);
    column->addWidget(words_);
    words_->setFont(text_font(11));
    words_->setForegroundRole(QPalette::PlaceholderText);
    words_->setWordWrap(true);
    constexpr int row_height = 18;
    set_up_rows(
        *table_,
        {tr("phase"), tr("peak ms"), tr("mean ms"), tr("before dB"), tr("heard ms"), tr("off dB")},
        row_height);
    title_numbers(*table_, {1, 2, 3, 4, 5});
    set_up_reading(*table_);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    table_->setAccessibleName(tr("Forms of the phase compared"));
    table_->setToolTip(
        tr("Peak: where the greatest tap stands. Mean: the group delay, weighted by energy.\n"
           "Before: energy ahead of the peak, against all. Heard: so long before the peak a tap is "
           "first within 60 dB of it.\nOff: how far the level is from the filter's as it is.\n"
           "Click a form, or press Enter, to take it."));
    connect(table_, &QTableWidget::cellActivated, this, [this](int at, int) { take_row(at); });
    connect(table_, &QTableWidget::cellClicked, this, [this](int at, int column_of_it) {
        if (column_of_it == 0) {
            take_row(at);
        }
    });
    connect(&session_, &Session::analysis_changed, this, &PhasePane::refresh);
    connect(&session_, &Session::selection_changed, this, &PhasePane::refresh);
}

bool PhasePane::is_there(const Session& session) {
    return selected_fir(session) != nullptr;
}

void PhasePane::show_words(const QString& text) {
    words_->setText(text);
    words_->setVisible(!text.isEmpty());
}

QString PhasePane::words() const {
    return words_->text();
}

void PhasePane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void PhasePane::refresh() {
    const FirSpec* spec = selected_fir(session_);
    const StageAnalysis* analysis = session_.stage_analysis();
    if (!isVisible() || spec == nullptr || analysis == nullptr) {
        return;
    }
    if (!analysis->filter || analysis->is_waiting) {
        return; // what is shown stands until there is a filter
    }
    if (!compared_ || !compared_->is_same_as(*analysis->filter)) {
        compare(*spec, *analysis->filter);
    }
}

void PhasePane::compare(const FirSpec& spec, const Filter& filter) {
    compared_ = filter;
    work_.stop(); // what is still compared is of another filter
    const auto* taps = std::get_if<Taps>(&filter.form());
    if (taps == nullptr) {
        return;
    }
    std::vector<double> values(taps->values().begin(), taps->values().end());
    const bool can_turn = may_turn_phase(spec) && values.size() <= most_compared;
    forms_ = {spec.phase};
    std::vector<double> shares;
    if (can_turn) {
        forms_ = {FirPhase::minimum, FirPhase::between, FirPhase::linear, FirPhase::maximum};
        shares = {0, spec.phase_share, 0.5, 1};
    }
    show_words(!may_turn_phase(spec)
                   ? tr("odd symmetry or a delay of its own: the phase cannot be turned")
               : !can_turn ? tr("too many taps to compare: %1 are the most").arg(most_compared)
                           : tr("being worked out …"));
    if (!can_turn) {
        show_rows({phase_facts(values)});
        return;
    }
    work_.begin([values = std::move(values),
                 shares](const Watch& watch) { return compared_phases(values, shares, watch); },
                [this](Expected<std::vector<PhaseFacts>> all) {
                    show_words(all ? QString() : QString::fromStdString(to_text(all.error())));
                    show_rows(all.value_or(std::vector<PhaseFacts>()));
                });
}

void PhasePane::show_rows(const std::vector<PhaseFacts>& all) {
    const FirSpec* spec = selected_fir(session_);
    const double ms = 1e3 / session_.study().sample_rate_hz;
    table_->setRowCount(static_cast<int>(all.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const PhaseFacts& facts = all[static_cast<std::size_t>(row)];
        const FirPhase form = forms_.at(static_cast<std::size_t>(row));
        const bool is_taken =
            spec != nullptr
            && (spec->phase == form
                || (spec->phase == FirPhase::as_made && facts.share == 0.5 && all.size() > 1));
        table_->setItem(row, 0,
                        text_cell((is_taken ? QStringLiteral("● ") : QStringLiteral("○ "))
                                      + title_of_form(form, facts.share),
                                  false));
        table_->setItem(row, 1, text_cell(shown_number(facts.greatest_at * ms, 4), true));
        table_->setItem(row, 2, text_cell(shown_number(facts.mean_delay * ms, 4), true));
        table_->setItem(row, 3, text_cell(shown_number(facts.before.energy_db, 3), true));
        table_->setItem(row, 4,
                        text_cell(shown_number(facts.before.earliest_samples * ms, 4), true));
        table_->setItem(row, 5, text_cell(shown_number(facts.error_db, 2), true));
    }
}

void PhasePane::take_row(int row) {
    if (row < 0 || static_cast<std::size_t>(row) >= forms_.size() || forms_.size() < 2) {
        return;
    }
    session_.edit_stage(tr("Change the phase"),
                        [form = forms_[static_cast<std::size_t>(row)]](Stage& stage) {
                            if (auto* spec = std::get_if<FirSpec>(&stage.spec.edit())) {
                                spec->phase = form;
                            }
                        });
}

} // namespace syntonon
