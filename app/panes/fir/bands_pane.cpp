// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/bands_pane.h"

#include "app/model/selected_fir.h"
#include "app/panes/goal/number_table.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/kinds.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

QString decibels_of(double gain) {
    return gain == 0 ? QStringLiteral("−∞")
                     : QString::fromStdString(signed_text(db_from_ratio(std::abs(gain)), 3));
}

Dimension dimension_of(int column) {
    return column <= BandsPane::to_hz     ? Dimension::frequency
           : column == BandsPane::gain_db ? Dimension::level
                                          : Dimension::plain;
}

double& number_at(FirBand& band, int column) {
    switch (column) {
    case BandsPane::from_hz:
        return band.from_hz;
    case BandsPane::to_hz:
        return band.to_hz;
    case BandsPane::weight:
        return band.weight;
    default:
        return band.gain;
    }
}

// One cell's text taken into a band.
Expected<FirBand> changed(FirBand band, int column, const QString& text,
                          const QuantityContext& context) {
    const bool is_silence = text.contains(QStringLiteral("∞")) || text.contains("inf");
    if (column == BandsPane::gain_db && is_silence) {
        band.gain = 0;
        return band;
    }
    if (column == BandsPane::gain_to && text.trimmed().isEmpty()) {
        band.gain_to.reset();
        return band;
    }
    return number_from_cell(text, dimension_of(column), context).map([&](double value) {
        if (column == BandsPane::gain_to) {
            band.gain_to = value;
        } else {
            number_at(band, column) = column == BandsPane::gain_db ? ratio_from_db(value) : value;
        }
        return band;
    });
}

} // namespace

BandsPane::BandsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session),
      table_(new NumberTable(
          {tr("from, Hz"), tr("to, Hz"), tr("gain"), tr("in dB"), tr("at its end"), tr("weight")},
          tr("Bands of the FIR"))),
      add_(new QPushButton(tr("Add band"))), remove_(new QPushButton(tr("Remove band"))),
      problem_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 6);
    column->setSpacing(4);
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    row->addWidget(add_);
    row->addWidget(remove_);
    row->addWidget(problem_, 1);
    column->addLayout(row);
    problem_->setFont(text_font(11));
    problem_->setWordWrap(true);
    table_->setToolTip(
        tr("Gain as a ratio or in dB; “at its end” makes it slope; between the bands "
           "nothing is asked for"));
    connect(table_, &NumberTable::entered, this, &BandsPane::take);
    connect(add_, &QPushButton::clicked, this, &BandsPane::add_band);
    connect(remove_, &QPushButton::clicked, this, [this] {
        const int at = table_->currentRow();
        change(tr("Remove a band"), [at](FirWish& wish) {
            if (at >= 0 && at < static_cast<int>(wish.bands.size()) && wish.bands.size() > 1) {
                wish.bands.erase(wish.bands.begin() + at);
            }
        });
    });
    connect(&session_, &Session::analysis_changed, this, &BandsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &BandsPane::refresh);
    refresh();
}

bool BandsPane::is_there(const Session& session) {
    const FirSpec* spec = selected_fir(session);
    return spec != nullptr && takes_bands(*spec);
}

QString BandsPane::problem() const {
    return problem_->text();
}

const FirSpec* BandsPane::fir() const {
    return is_there(session_) ? selected_fir(session_) : nullptr;
}

void BandsPane::refresh() {
    const FirSpec* spec = fir();
    std::vector<QStringList> rows;
    if (spec != nullptr && !spec->wish.use_goal) {
        for (const FirBand& band : spec->wish.bands) {
            rows.push_back({number_cell(band.from_hz), number_cell(band.to_hz),
                            number_cell(band.gain), decibels_of(band.gain),
                            band.gain_to ? number_cell(*band.gain_to) : QString(),
                            number_cell(band.weight)});
        }
    }
    table_->show_rows(rows);
    const bool has_bands = spec != nullptr && !spec->wish.use_goal;
    table_->setEnabled(has_bands);
    add_->setEnabled(has_bands);
    remove_->setEnabled(has_bands && spec->wish.bands.size() > 1);
    const StageAnalysis* analysis = session_.stage_analysis();
    if (refused_ && (spec == nullptr || spec->wish != refused_->wish)) {
        refused_.reset();
    }
    const bool is_refused = has_bands && analysis != nullptr && !analysis->filter;
    problem_->setText(spec != nullptr && spec->wish.use_goal
                          ? tr("The goal is what is asked for: its target, corridor and weights, "
                               "and nothing in its gaps.")
                      : refused_   ? refused_->why
                      : is_refused ? QString::fromStdString(to_text(analysis->filter.error()))
                                   : QString());
}

void BandsPane::take(int row, int column, const QString& text) {
    const FirSpec* spec = fir();
    if (spec == nullptr || static_cast<std::size_t>(row) >= spec->wish.bands.size()) {
        return;
    }
    const auto at = static_cast<std::size_t>(row);
    FirWish tried = spec->wish;
    QuantityContext context;
    context.sample_rate_hz = session_.study().sample_rate_hz;
    context.current = number_at(tried.bands[at], column);
    const auto made = changed(tried.bands[at], column, text, context);
    if (made) {
        tried.bands[at] = *made;
    }
    const auto fits = made ? amplitude_of(tried, brief_at(session_.axis()))
                           : Expected<Amplitude>(tl::unexpected(made.error()));
    if (!fits) {
        refused_ = {spec->wish, QString::fromStdString(to_text(fits.error()))};
        refresh(); // what was there stays
        return;
    }
    refused_.reset();
    change(tr("Change a band"), [&](FirWish& wish) { wish = tried; });
}

// Above the last one, where there is room; else it halves that.
void BandsPane::add_band() {
    change(tr("Add a band"), [this](FirWish& wish) {
        const auto last = std::ranges::max_element(wish.bands, {}, &FirBand::to_hz);
        const double end = session_.axis().end_hz(), room = end - last->to_hz;
        FirBand fresh = *last;
        if (room > end / 50) {
            fresh.from_hz = last->to_hz + room / 2;
            fresh.to_hz = end;
        } else {
            const double width = last->to_hz - last->from_hz;
            fresh.from_hz = last->to_hz - width / 3;
            last->to_hz -= 2 * width / 3;
        }
        wish.bands.push_back(fresh);
    });
}

void BandsPane::change(const QString& name, const std::function<void(FirWish&)>& change) {
    session_.edit_stage(name,
                        [&](Stage& stage) { change(std::get<FirSpec>(stage.spec.edit()).wish); });
}

} // namespace syntonon
