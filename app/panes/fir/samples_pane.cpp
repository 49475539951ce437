// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/samples_pane.h"

#include "app/model/selected_fir.h"
#include "app/panes/goal/number_table.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

const QString left_to_program = QStringLiteral("best");

QString decibels_of_gain(double gain) {
    return gain == 0 ? QStringLiteral("−∞")
                     : QString::fromStdString(signed_text(db_from_ratio(std::abs(gain)), 3));
}

QString gain_cell(const FirSample& sample, double found) {
    return sample.gain ? number_cell(*sample.gain)
                       : QStringLiteral("%1: %2").arg(left_to_program, number_cell(found));
}

// One cell's text taken into a sample.
Expected<FirSample> changed(FirSample sample, int column, const QString& text,
                            const QuantityContext& context) {
    const bool is_silence = text.contains(QStringLiteral("∞")) || text.contains("inf");
    if (column == SamplesPane::gain_db && is_silence) {
        sample.gain = 0;
        return sample;
    }
    if (column != SamplesPane::frequency && text.trimmed().startsWith(left_to_program)) {
        sample.gain.reset();
        return sample;
    }
    const Dimension dimension = column == SamplesPane::frequency ? Dimension::frequency
                                : column == SamplesPane::gain_db ? Dimension::level
                                                                 : Dimension::plain;
    return number_from_cell(text, dimension, context).map([&](double value) {
        if (column == SamplesPane::frequency) {
            sample.frequency_hz = value;
        } else {
            sample.gain = column == SamplesPane::gain_db ? ratio_from_db(value) : value;
        }
        return sample;
    });
}

} // namespace

SamplesPane::SamplesPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session),
      table_(new NumberTable({tr("at, Hz"), tr("gain"), tr("in dB")}, tr("Samples of the FIR"))),
      add_(new QPushButton(tr("Add sample"))), remove_(new QPushButton(tr("Remove"))),
      best_(new QPushButton(tr("Best value"))), on_grid_(new QPushButton(tr("All on the grid"))),
      words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 6);
    column->setSpacing(4);
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    for (QPushButton* button : {best_, on_grid_, add_, remove_}) {
        row->addWidget(button);
    }
    row->addWidget(words_, 1);
    column->addLayout(row);
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    best_->setCheckable(true);
    table_->setToolTip(tr("Gain as a ratio or in dB, or “best”: the program finds the value that "
                          "makes the stop band's highest lobe lowest"));
    on_grid_->setToolTip(tr("Every sample to its multiple of sample rate / length"));
    connect(table_, &NumberTable::entered, this, &SamplesPane::take);
    connect(table_, &NumberTable::rows_chosen, this, &SamplesPane::tell_buttons);
    connect(add_, &QPushButton::clicked, this, &SamplesPane::add_sample);
    connect(remove_, &QPushButton::clicked, this, [this] {
        if (const auto at = chosen()) {
            remove_sample(session_, *at);
        }
    });
    connect(best_, &QPushButton::clicked, this, [this] {
        if (const auto at = chosen()) {
            toggle_best(session_, *at);
        }
        tell_buttons();
    });
    connect(on_grid_, &QPushButton::clicked, this, [this] { put_on_grid(session_); });
    connect(&session_, &Session::analysis_changed, this, &SamplesPane::refresh);
    connect(&session_, &Session::selection_changed, this, &SamplesPane::refresh);
    refresh();
}

bool SamplesPane::is_there(const Session& session) {
    const FirSpec* spec = selected_fir(session);
    return spec != nullptr && std::holds_alternative<SampledFir>(spec->method)
           && samples_in_hand(session).has_value();
}

QString SamplesPane::words() const {
    return words_->text();
}

std::optional<std::size_t> SamplesPane::chosen() const {
    const auto rows = table_->chosen_rows();
    return rows.size() == 1 ? std::optional(static_cast<std::size_t>(*rows.begin())) : std::nullopt;
}

void SamplesPane::refresh() {
    const auto now = samples_in_hand(session_);
    std::vector<QStringList> rows;
    for (const FirSample& sample : now ? now->samples : std::vector<FirSample>()) {
        const double found = gain_found(session_, sample);
        rows.push_back(
            {number_cell(sample.frequency_hz), gain_cell(sample, found), decibels_of_gain(found)});
    }
    table_->show_rows(rows);
    const StageAnalysis* stage = session_.stage_analysis();
    words_->setText(refused_ ? *refused_
                    : stage != nullptr && !stage->filter
                        ? QString::fromStdString(to_text(stage->filter.error()))
                    : now && !now->are_own
                        ? tr("At equal steps of what is asked for; the first change makes them "
                             "samples of their own.")
                        : QString());
    refused_.reset();
    tell_buttons();
}

void SamplesPane::tell_buttons() {
    const auto now = samples_in_hand(session_);
    const auto at = chosen();
    const bool is_one = now && at && *at < now->samples.size();
    best_->setEnabled(is_one);
    best_->setChecked(is_one && !now->samples[*at].gain);
    remove_->setEnabled(is_one && now->samples.size() > 1);
    on_grid_->setEnabled(now && now->are_own);
}

void SamplesPane::take(int row, int column, const QString& text) {
    const auto now = samples_in_hand(session_);
    const auto at = static_cast<std::size_t>(row);
    if (!now || at >= now->samples.size()) {
        return;
    }
    QuantityContext context;
    context.sample_rate_hz = session_.study().sample_rate_hz;
    context.current = now->samples[at].frequency_hz;
    auto made = changed(now->samples[at], column, text, context);
    const double end = session_.axis().end_hz();
    if (made && !(made->frequency_hz >= 0 && made->frequency_hz <= end)) {
        made = refuse("at",
                      number_cell(made->frequency_hz).toStdString()
                          + " Hz is not between 0 Hz and half the sample rate",
                      "move it there");
    }
    if (!made) {
        refused_ = QString::fromStdString(to_text(made.error()));
        refresh(); // what was there stays
        return;
    }
    edit_samples(session_, tr("Change a sample"),
                 [&](std::vector<FirSample>& samples) { samples[at] = *made; });
}

// In the middle of the widest gap, on the straight line there.
void SamplesPane::add_sample() {
    edit_samples(session_, tr("Add a sample"), [this](std::vector<FirSample>& samples) {
        std::ranges::stable_sort(samples, {}, &FirSample::frequency_hz);
        std::size_t widest = 0;
        double width = 0;
        for (std::size_t i = 0; i + 1 < samples.size(); ++i) {
            if (const double gap = samples[i + 1].frequency_hz - samples[i].frequency_hz;
                gap > width) {
                width = gap;
                widest = i;
            }
        }
        if (width > 0) {
            const double middle = samples[widest].frequency_hz + width / 2;
            const double between =
                (gain_found(session_, samples[widest]) + gain_found(session_, samples[widest + 1]))
                / 2;
            samples.insert(samples.begin() + static_cast<std::ptrdiff_t>(widest) + 1,
                           FirSample{middle, between, {}});
        }
    });
}

} // namespace syntonon
