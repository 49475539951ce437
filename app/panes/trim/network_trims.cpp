// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/network_trims.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/knob_bar.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"
#include "core/filter/form.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

QString short_text(double value) {
    return shown_number(value, 4);
}

// " · 4.15 dB and 31° to spare"
QString margin_words(const StageAnalysis& stage) {
    const auto& stability = stage.filter->stability();
    if (!stability || !stability->margin || !stability->is_stable()) {
        return stability && !stability->is_stable() ? QObject::tr(" ◇ unstable") : QString();
    }
    const LoopMargin& margin = *stability->margin;
    QStringList parts;
    if (std::isfinite(margin.most_gain)) {
        parts << QObject::tr("%1 dB").arg(shown_number(db_from_ratio(margin.most_gain), 3));
    }
    if (margin.phase_rad) {
        parts << shown_number(deg_from_rad(*margin.phase_rad), 3) + "°";
    }
    return parts.isEmpty() ? QString()
                           : QObject::tr(" %1 to spare").arg(parts.join(QObject::tr(" and ")));
}

// One drag is one step of the history, and keys in a row are one.
template <class Set>
void connect_knob(KnobBar& knob, FieldsTrim& trim, QString& gesture, Set set) {
    QObject::connect(&knob, &KnobBar::taken, &trim,
                     [&] { gesture = trim.session().new_gesture(); });
    QObject::connect(&knob, &KnobBar::turned, &trim, [&trim, &gesture, set](double value) {
        trim.edit(QObject::tr("Change %1"), gesture, [&](StageSpec& spec) { set(spec, value); });
    });
    QObject::connect(&knob, &KnobBar::stepped, &trim, [&trim, set](double value) {
        trim.edit(QObject::tr("Change %1"),
                  trim.session().continuing_gesture(
                      "knob " + QString::fromStdString(trim.session().selection().stage)),
                  [&](StageSpec& spec) { set(spec, value); });
    });
}

} // namespace

LoopTrim::LoopTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, trim_fields<LoopSpec>(), parent),
      delay_(new QPushButton(tr("Put in a delay of 1 sample"))), words_(new QLabel),
      knob_(new KnobBar(tr("Feedback of the loop, on a knob"))) {
    delay_->setToolTip(tr("At the end of the return, where it can be seen and changed"));
    words_->setFont(text_font(11));
    row()->insertWidget(1, knob_, 1);
    row()->insertWidget(2, delay_);
    row()->insertWidget(3, words_);
    knob_->setMaximumWidth(420);
    connect_knob(*knob_, *this, gesture_, [](StageSpec& spec, double value) {
        std::get<LoopSpec>(spec.edit()).feedback.factor = value;
    });
    connect(delay_, &QPushButton::clicked, this, &LoopTrim::put_delay_in);
}

void LoopTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    const StageAnalysis* analysis = session().stage_analysis();
    // A loop that has no solution at once is helped by the delay, too.
    const bool is_refused = analysis == nullptr || !analysis->filter;
    const auto* loop = is_refused ? nullptr : std::get_if<Loop>(&analysis->filter->form());
    const bool at_once = loop != nullptr && gain_at_once(*loop) != 0;
    const bool has_no_solution =
        is_refused && analysis != nullptr && analysis->filter.error().place == "feedback.factor";
    delay_->setVisible(at_once || has_no_solution);
    words_->setText(is_refused ? QString()
                               : QString::fromStdString(analysis->note) + margin_words(*analysis));
    knob_->setVisible(loop != nullptr);
    if (loop != nullptr) {
        show_range(*loop);
        knob_->show_value(loop->factor);
    }
}

// The range holds for whatever factor; it is looked for when something else in the loop changes.
void LoopTrim::show_range(const Loop& loop) {
    const bool is_known = forward_ && forward_->is_same_as(loop.forward) && feedback_
                          && feedback_->is_same_as(loop.feedback);
    constexpr double beyond = 1.15, usual = 1.2;
    if (!is_known) {
        forward_ = loop.forward;
        feedback_ = loop.feedback;
        const auto range = stable_factors(loop);
        std::vector<KnobBar::Mark> marks;
        double low = -usual, high = usual;
        if (range && std::isfinite(range->low)) {
            marks.push_back({range->low, tr("unstable up to %1").arg(short_text(range->low))});
            low = range->low * beyond;
        }
        if (range && std::isfinite(range->high)) {
            marks.push_back({range->high, tr("unstable from %1").arg(short_text(range->high))});
            high = range->high * beyond;
        }
        knob_->set_marks(std::move(marks));
        knob_->set_range(low, high, false);
    }
    if (!knob_->is_held()) { // a factor beyond is shown, too
        knob_->set_range(std::min(knob_->low(), loop.factor), std::max(knob_->high(), loop.factor),
                         false);
    }
}

void LoopTrim::put_delay_in() {
    edit(tr("Put a delay into %1"), {}, [this](StageSpec& spec) {
        Stage delay;
        delay.spec = DelaySpec{DelayUnit::samples, 1};
        give_fresh_ids(delay, session().channel()->stages);
        std::get<LoopSpec>(spec.edit()).feedback.stages.emplace_back(std::move(delay));
    });
}

TrimPanel* make_panel(const LoopSpec&, Session& session) {
    return new LoopTrim(session);
}

void offer(const LoopSpec&, std::vector<NewStage>& offers) {
    LoopSpec loop;
    Stage delay;
    delay.spec = DelaySpec{DelayUnit::samples, 1};
    loop.feedback.stages.emplace_back(std::move(delay));
    offers.push_back({QObject::tr("Loop"), loop});
}

RepeatTrim::RepeatTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, trim_fields<RepeatSpec>(), parent),
      knob_(new KnobBar(tr("Count, on a knob"))) {
    constexpr double most = 128;
    row()->insertWidget(1, knob_, 1);
    knob_->setMaximumWidth(420);
    knob_->set_range(1, most, true);
    connect_knob(*knob_, *this, gesture_, [](StageSpec& spec, double value) {
        std::get<RepeatSpec>(spec.edit()).count = static_cast<int>(std::lround(value));
    });
}

void RepeatTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    knob_->show_value(std::get<RepeatSpec>(*stage.spec).count);
}

TrimPanel* make_panel(const RepeatSpec&, Session& session) {
    return new RepeatTrim(session);
}

void offer(const RepeatSpec&, std::vector<NewStage>& offers) {
    offers.push_back({QObject::tr("Repeat"), RepeatSpec{}});
}

} // namespace syntonon
