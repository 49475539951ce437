// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/split_trim.h"

#include "app/model/stage_commands.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/field.h"
#include "app/widgets/words.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace syntonon {
namespace {

constexpr std::size_t most_branches = 6; // as many as the rail shows side by side

} // namespace

SplitTrim::SplitTrim(Session& session, QWidget* parent)
    : TrimPanel(parent), session_(session), row_(new QHBoxLayout(this)),
      more_(new QPushButton(tr("Add branch"))), fewer_(new QPushButton(tr("Remove last"))) {
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(20);
    more_->setToolTip(tr("One more branch, of which nothing is changed"));
    fewer_->setToolTip(tr("Removes the last branch and the stages in it"));
    row_->addWidget(more_);
    row_->addWidget(fewer_);
    row_->addStretch(1);
    connect(more_, &QPushButton::clicked, this, &SplitTrim::add_branch);
    connect(fewer_, &QPushButton::clicked, this, &SplitTrim::remove_branch);
}

void SplitTrim::show_stage(const Stage& stage) {
    const auto& branches = std::get<SplitSpec>(*stage.spec).branches;
    while (factors_.size() < branches.size()) {
        const std::size_t branch = factors_.size();
        auto* field = new Field({tr("Branch %1").arg(branch + 1), QStringLiteral("×"),
                                 Dimension::plain, 3, true, step_by_tenth});
        field->setFixedWidth(88);
        connect(field, &Field::value_entered, this, [this, branch](double value, bool continuing) {
            take_factor(branch, value, continuing);
        });
        row_->insertWidget(static_cast<int>(branch), field);
        factors_.push_back(field);
    }
    for (std::size_t k = 0; k < factors_.size(); ++k) {
        factors_[k]->setVisible(k < branches.size());
        if (k < branches.size()) {
            factors_[k]->show_value(branches[k].factor);
        }
    }
    more_->setEnabled(branches.size() < most_branches);
    fewer_->setEnabled(branches.size() > 2);
}

void SplitTrim::take_factor(std::size_t branch, double value, bool continuing) {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    session_.edit_stage(
        tr("Change branch %1 of %2").arg(branch + 1).arg(spoken_name(*stage)),
        [&](Stage& s) { std::get<SplitSpec>(s.spec.edit()).branches.at(branch).factor = value; },
        continuing ? session_.continuing_gesture(QString::fromStdString(stage->id)) : QString());
}

void SplitTrim::add_branch() {
    if (const Stage* stage = session_.stage()) {
        session_.edit_stage(tr("Add a branch to %1").arg(spoken_name(*stage)), [](Stage& s) {
            std::get<SplitSpec>(s.spec.edit()).branches.emplace_back();
        });
    }
}

void SplitTrim::remove_branch() {
    if (const Stage* stage = session_.stage()) {
        session_.edit_stage(tr("Remove a branch of %1").arg(spoken_name(*stage)), [](Stage& s) {
            std::get<SplitSpec>(s.spec.edit()).branches.pop_back();
        });
    }
}

TrimPanel* make_panel(const SplitSpec&, Session& session) {
    return new SplitTrim(session);
}

void offer(const SplitSpec&, std::vector<NewStage>& offers) {
    offers.push_back({tr("Split"), SplitSpec{}});
}

} // namespace syntonon
