// The panels of kinds that are little more than their fields.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/simple_trims.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/theme.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"
#include "core/base/units.h"
#include "core/exchange/taps_text.h"

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace syntonon {
namespace {

std::vector<TrimField> gain_trim_fields() {
    auto fields = trim_fields<GainSpec>();
    fields[0].derived = [](const StageSpec& s, double) {
        const double factor = std::abs(factor_of(std::get<GainSpec>(*s)));
        return factor > 0 ? std::optional(db_from_ratio(factor)) : std::nullopt;
    };
    fields[1].derived = [](const StageSpec& s, double) {
        return std::optional(factor_of(std::get<GainSpec>(*s)));
    };
    return fields;
}

std::vector<TrimField> delay_trim_fields() {
    auto fields = trim_fields<DelaySpec>();
    for (const DelayUnit unit : {DelayUnit::samples, DelayUnit::ms, DelayUnit::metres}) {
        fields[static_cast<std::size_t>(unit)].derived = [unit](const StageSpec& s, double rate) {
            return std::optional(value_in(unit, std::get<DelaySpec>(*s), rate));
        };
    }
    return fields;
}

} // namespace

GainTrim::GainTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, gain_trim_fields(), parent), invert_(new QCheckBox(tr("Invert"))) {
    invert_->setToolTip(tr("Turns the polarity"));
    row()->insertWidget(2, invert_);
    connect(invert_, &QCheckBox::clicked, this, [this](bool on) {
        edit(on ? tr("Invert %1") : tr("Do not invert %1"), {}, [on](StageSpec& spec) {
            auto& gain = std::get<GainSpec>(spec.edit());
            if (gain.factor) {
                gain.factor = on ? -std::abs(*gain.factor) : std::abs(*gain.factor);
            } else {
                gain.invert = on;
            }
        });
    });
}

void GainTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    invert_->setChecked(std::signbit(factor_of(std::get<GainSpec>(*stage.spec))));
}

DelayTrim::DelayTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, delay_trim_fields(), parent), interpolation_(new QComboBox) {
    for (const QString& words :
         {tr("whole samples"), tr("polynomial"), tr("all-pass"), tr("windowed sinc")}) {
        interpolation_->addItem(words);
    }
    interpolation_->setToolTip(tr("How parts of a sample are made"));
    interpolation_->setAccessibleName(tr("Interpolation"));
    auto* box = new TitledBox(tr("Interpolation"), interpolation_, 150);
    row()->insertWidget(static_cast<int>(fields_of(DelaySpec()).size()) - 1, box);
    connect(interpolation_, &QComboBox::activated, this, &DelayTrim::take_interpolation);
}

void DelayTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    interpolation_->setCurrentIndex(
        static_cast<int>(std::get<DelaySpec>(*stage.spec).interpolation));
}

// A delay that is too short for the interpolation is made as short as it can be.
void DelayTrim::take_interpolation(int index) {
    const double rate = session().study().sample_rate_hz;
    edit(tr("Interpolate %1"), {}, [&](StageSpec& spec) {
        auto& delay = std::get<DelaySpec>(spec.edit());
        delay.interpolation = all_interpolations.at(static_cast<std::size_t>(index));
        delay.order = std::min(delay.order, most_order(delay.interpolation));
        const double least = least_delay_samples(delay.interpolation, delay.order);
        if (delay.interpolation != Interpolation::none && samples_of(delay, rate) <= least) {
            delay.value = value_in(
                delay.unit, {DelayUnit::samples, least + 0.5, delay.speed_of_sound_m_per_s}, rate);
        }
    });
}

TapsTrim::TapsTrim(Session& session, QWidget* parent)
    : TrimPanel(parent), session_(session), summary_(new QLabel), problem_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(summary_);
    const auto add = [&](const QString& text, const QString& tip, void (TapsTrim::*act)()) {
        auto* button = new QPushButton(text);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, act);
        row->addWidget(button);
    };
    add(tr("Paste"), tr("Takes the numbers on the clipboard as taps"), &TapsTrim::paste);
    add(tr("From file…"), tr("Takes the numbers in a text file as taps"), &TapsTrim::choose_file);
    add(tr("Copy"), tr("Puts the taps on the clipboard, one a line"), &TapsTrim::copy);
    row->addStretch(1);
    column->addLayout(row);
    column->addWidget(problem_);
    column->addStretch(1);
    summary_->setMinimumWidth(180);
    summary_->setFont(text_font(13));
    problem_->setFont(text_font(11));
}

void TapsTrim::show_stage(const Stage& stage) {
    const auto& taps = *std::get<TapsSpec>(*stage.spec).taps;
    double sum = 0;
    for (const double tap : taps) {
        sum += tap;
    }
    summary_->setText(
        tr("%1, sum %2").arg(QString::fromStdString(summary_of(stage))).arg(sum, 0, 'g', 6));
    show_problem({});
}

void TapsTrim::show_problem(const QString& text) {
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    problem_->setPalette(colours);
    problem_->setText(text);
}

void TapsTrim::take(const Expected<std::vector<double>>& taps) {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    const StageSpec spec{TapsSpec{
        std::make_shared<const std::vector<double>>(taps.value_or(std::vector<double>{1.0}))}};
    const auto filter = session_.try_design(spec);
    if (!taps || !filter) {
        show_problem(QString::fromStdString(to_text(!taps ? taps.error() : filter.error())));
        return;
    }
    session_.edit_stage(tr("Change the taps of %1").arg(QString::fromStdString(title_of(*stage))),
                        [&](Stage& s) { s.spec = spec; });
}

void TapsTrim::paste() {
    take(taps_from_text(QGuiApplication::clipboard()->text().toStdString()));
}

void TapsTrim::choose_file() {
    const QString path = QFileDialog::getOpenFileName(this, tr("Taps from a text file"));
    if (!path.isEmpty()) {
        take(taps_from_file(path.toStdString()));
    }
}

void TapsTrim::copy() {
    if (const Stage* stage = session_.stage()) {
        QGuiApplication::clipboard()->setText(
            QString::fromStdString(taps_text(*std::get<TapsSpec>(*stage->spec).taps)));
    }
}

TrimPanel* make_panel(const GainSpec&, Session& session) {
    return new GainTrim(session);
}

void offer(const GainSpec&, std::vector<NewStage>& offers) {
    offers.push_back({tr("Gain"), GainSpec{}});
}

TrimPanel* make_panel(const DelaySpec&, Session& session) {
    return new DelayTrim(session);
}

void offer(const DelaySpec&, std::vector<NewStage>& offers) {
    offers.push_back({tr("Delay"), DelaySpec{DelayUnit::ms, 1}});
}

TrimPanel* make_panel(const TapsSpec&, Session& session) {
    return new TapsTrim(session);
}

void offer(const TapsSpec&, std::vector<NewStage>& offers) {
    offers.push_back({tr("Taps"), TapsSpec{}});
}

} // namespace syntonon
