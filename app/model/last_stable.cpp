// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/last_stable.h"

#include "app/widgets/words.h"
#include "core/design/root_numbers.h"

#include <utility>
#include <vector>

namespace syntonon {

LastStable::LastStable(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session_, &Session::analysis_changed, this, &LastStable::remember);
    remember();
}

void LastStable::remember() {
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    if (analysis == nullptr || channel == nullptr) {
        return;
    }
    if (channel->id != channel_) {
        stages_.clear();
        channel_ = channel->id;
    }
    for (const auto& stage : channel->stages) {
        const StageAnalysis* designed = analysis->stage(stage->id);
        if (designed != nullptr && designed->filter && !designed->is_waiting
            && designed->filter->is_stable()) {
            stages_.insert_or_assign(stage->id, stage);
        }
    }
}

Expected<void> LastStable::bring_back() {
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    std::vector<std::pair<std::string, Stage>> back;
    for (std::size_t i = 0; analysis != nullptr && i < channel->stages.size(); ++i) {
        const std::string& id = channel->stages[i]->id;
        const StageAnalysis* designed = analysis->stage(id);
        const auto known = stages_.find(id);
        if (designed != nullptr && designed->filter && !designed->filter->is_stable()
            && known != stages_.end()) {
            back.emplace_back(id, *known->second);
        }
    }
    if (back.empty()) {
        return refuse("", "no stage is unstable that was stable before",
                      "undo brings changes back");
    }
    session_.edit_channel(tr("Back to the last stable place"), [&](Channel& changed) {
        for (const auto& known : back) {
            edit_stage(changed.stages, known.first, [&](Stage& s) { s = known.second; });
        }
    });
    return {};
}

QString growth_words(const Filter& filter, const Axis& axis) {
    return filter.roots() ? QString::fromStdString(growth_text(*filter.roots(), axis)) : QString();
}

} // namespace syntonon
