// The panels of kinds that are little more than their fields.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/simple_trims.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"
#include "core/base/units.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
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

} // namespace syntonon
