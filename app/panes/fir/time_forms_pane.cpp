// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/time_forms_pane.h"

#include "app/model/selected_fir.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/filter/form.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

constexpr std::size_t most_turned = 1 << 16;

QString title_of_phase(FirPhase phase) {
    const auto title = named<FirPhase>(names_of_phases(), phase).title;
    return QString::fromUtf8(title.data(), static_cast<qsizetype>(title.size()));
}

// Of the forms that are always shown, the one that a spec has; else its own.
FirPhase shown_phase(const FirSpec& spec) {
    return spec.phase == FirPhase::as_made && may_turn_phase(spec) ? FirPhase::linear : spec.phase;
}

} // namespace

TimeFormsPane::TimeFormsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), signal_(new QComboBox),
      frequency_(new QuantityEdit(Dimension::frequency, QStringLiteral("Hz"))),
      table_(new QTableWidget), plot_(new TimeFormsPlot) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(6, 2, 8, 2);
    row->setSpacing(6);
    row->addWidget(plot_, 1);
    auto* column = new QVBoxLayout;
    column->setSpacing(2);
    auto* choices = new QHBoxLayout;
    choices->addWidget(signal_);
    choices->addWidget(frequency_);
    column->addLayout(choices);
    column->addWidget(table_, 1);
    row->addLayout(column);
    for (const QString& name : {tr("impulse"), tr("step"), tr("tone burst")}) {
        signal_->addItem(name);
    }
    signal_->setAccessibleName(tr("Signal"));
    constexpr int table_width = 216, row_height = 16, edit_width = 84;
    frequency_->setFixedWidth(edit_width);
    frequency_->setAccessibleName(tr("Frequency of the burst"));
    table_->setFixedWidth(table_width);
    set_up_rows(*table_, {tr("phase"), tr("from ms"), tr("energy dB"), tr("most dB")}, row_height);
    title_numbers(*table_, {1, 2, 3});
    set_up_reading(*table_);
    table_->setStyleSheet(table_->styleSheet() + " QHeaderView::section { padding: 0; }");
    table_->setFont(text_font(11));
    table_->horizontalHeader()->setFont(text_font(10));
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(phase, QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setFixedHeight(row_height);
    table_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table_->setAccessibleName(tr("What rings before the onset"));
    table_->setToolTip(
        tr("What can be heard before the onset (dashed): from when on it is within 60 dB of the "
           "greatest,\nits energy against all in dB (of a step: against the final value for as "
           "long), and its greatest level in dB.\nThe chosen row is the one that is marked."));
    connect(table_, &QTableWidget::itemSelectionChanged, this, [this] {
        if (const int at = table_->currentRow(); at >= 0 && at < static_cast<int>(forms_.size())) {
            QPalette colours = table_->palette(); // the chosen name keeps the colour of its curve
            colours.setColor(QPalette::HighlightedText,
                             colour_of(forms_[static_cast<std::size_t>(at)].phase));
            table_->setPalette(colours);
            plot_->show_forms(&forms_, static_cast<std::size_t>(at),
                              session_.study().sample_rate_hz);
        }
    });
    connect(signal_, &QComboBox::activated, this, &TimeFormsPane::refresh);
    connect(frequency_, &QuantityEdit::value_entered, this, [this](std::optional<double> hz) {
        burst_.frequency_hz = hz.value_or(burst_.frequency_hz);
        refresh();
    });
    connect(&session_, &Session::analysis_changed, this, &TimeFormsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &TimeFormsPane::refresh);
}

QColor TimeFormsPane::colour_of(FirPhase phase) {
    const Theme& t = theme();
    switch (phase) {
    case FirPhase::minimum:
        return t.plum;
    case FirPhase::between:
        return t.measured;
    case FirPhase::maximum:
        return t.corridor_edge;
    default:
        return t.ink;
    }
}

void TimeFormsPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void TimeFormsPane::refresh() {
    const FirSpec* spec = selected_fir(session_);
    const StageAnalysis* stage = session_.stage_analysis();
    const auto signal = static_cast<TimeSignal>(signal_->currentIndex());
    frequency_->setVisible(signal == TimeSignal::burst);
    frequency_->show_value(burst_.frequency_hz);
    frequency_->set_sample_rate(session_.study().sample_rate_hz);
    if (!isVisible() || spec == nullptr || stage == nullptr || stage->is_waiting) {
        return; // what is shown stands
    }
    if (!stage->filter) {
        asked_.reset();
        work_.stop();
        plot_->show_words(QString::fromStdString(to_text(stage->filter.error())));
        return;
    }
    const bool is_shown =
        asked_ && asked_->filter.is_same_as(*stage->filter) && asked_->phase == spec->phase
        && asked_->signal == signal
        && (signal != TimeSignal::burst || asked_->frequency_hz == burst_.frequency_hz);
    if (!is_shown) {
        work_out(*spec, *stage->filter);
    }
}

void TimeFormsPane::work_out(const FirSpec& spec, const Filter& filter) {
    const auto signal = static_cast<TimeSignal>(signal_->currentIndex());
    asked_ = Asked{filter, spec.phase, signal, burst_.frequency_hz};
    work_.stop(); // what is still worked out is of something else
    const auto* form = std::get_if<Taps>(&filter.form());
    if (form == nullptr || form->values().size() > most_turned) {
        plot_->show_words(form == nullptr ? tr("there are no taps")
                                          : tr("more than %1 taps are too many").arg(most_turned));
        return;
    }
    std::vector<FirPhase> phases{shown_phase(spec)};
    std::vector<double> shares;
    if (may_turn_phase(spec)) {
        phases = {FirPhase::linear, FirPhase::between, FirPhase::minimum};
        shares = {0.5, spec.phase_share, 0};
        if (spec.phase == FirPhase::maximum) {
            phases.push_back(FirPhase::maximum);
            shares.push_back(1);
        }
    }
    if (forms_.empty()) {
        plot_->show_words(tr("being worked out …"));
    }
    std::vector<double> taps(form->values().begin(), form->values().end());
    work_.begin(
        [taps = std::move(taps), shares, signal, burst = burst_,
         rate = session_.study().sample_rate_hz](const Watch& watch) {
            return time_forms(taps, shares, signal, burst, rate, watch);
        },
        [this, phases](Expected<std::vector<TimeForm>> forms) { take(std::move(forms), phases); });
}

void TimeFormsPane::take(Expected<std::vector<TimeForm>> forms,
                         const std::vector<FirPhase>& phases) {
    forms_.clear();
    if (!forms) {
        plot_->show_words(QString::fromStdString(to_text(forms.error())));
    } else {
        for (std::size_t i = 0; i < forms->size(); ++i) {
            forms_.push_back({phases[i], std::move((*forms)[i])});
        }
    }
    show_rows();
}

void TimeFormsPane::show_rows() {
    const double ms = 1e3 / session_.study().sample_rate_hz;
    const FirSpec* spec = selected_fir(session_);
    const int before = table_->currentRow();
    table_->setRowCount(static_cast<int>(forms_.size()));
    int own = 0;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const ShownForm& shown = forms_[static_cast<std::size_t>(row)];
        const PreRingingRegion& region = shown.form.before;
        own = spec != nullptr && shown.phase == shown_phase(*spec) ? row : own;
        auto* name = text_cell(title_of_phase(shown.phase), false);
        name->setForeground(colour_of(shown.phase));
        table_->setItem(row, phase, name);
        const QString none = QStringLiteral("–");
        table_->setItem(
            row, starts,
            text_cell(region.is_empty() ? none : shown_number(region.from * ms, 3), true));
        table_->setItem(
            row, energy,
            text_cell(region.is_empty() ? none : shown_number(region.energy_db, 3), true));
        table_->setItem(
            row, greatest,
            text_cell(region.is_empty() ? none : shown_number(region.greatest_db, 3), true));
    }
    if (!forms_.empty()) {
        const bool stands = before >= 0 && before < table_->rowCount();
        table_->selectRow(stands ? before : own);
        plot_->show_forms(&forms_, static_cast<std::size_t>(stands ? before : own),
                          session_.study().sample_rate_hz);
    }
}

} // namespace syntonon
