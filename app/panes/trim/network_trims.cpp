// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/network_trims.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/theme.h"
#include "core/filter/form.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace syntonon {

LoopTrim::LoopTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, trim_fields<LoopSpec>(), parent),
      delay_(new QPushButton(tr("Put in a delay of 1 sample"))), words_(new QLabel) {
    delay_->setToolTip(tr("At the end of the return, where it can be seen and changed"));
    words_->setFont(text_font(11));
    row()->insertWidget(1, delay_);
    row()->insertWidget(2, words_);
    connect(delay_, &QPushButton::clicked, this, &LoopTrim::put_delay_in);
}

void LoopTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    const StageAnalysis* analysis = session().stage_analysis();
    // A loop that has no solution at once is helped by the delay, too.
    const bool is_refused = analysis == nullptr || !analysis->filter;
    const auto* loop = is_refused ? nullptr : std::get_if<Loop>(&analysis->filter->form());
    const bool at_once = loop != nullptr && gain_at_once(*loop) != 0;
    delay_->setVisible(at_once || is_refused);
    words_->setText(is_refused ? QString() : QString::fromStdString(analysis->note));
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

TrimPanel* make_panel(const RepeatSpec&, Session& session) {
    return new FieldsTrim(session, trim_fields<RepeatSpec>());
}

void offer(const RepeatSpec&, std::vector<NewStage>& offers) {
    offers.push_back({QObject::tr("Repeat"), RepeatSpec{}});
}

} // namespace syntonon
