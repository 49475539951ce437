// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/way_finder.h"

#include <utility>

namespace syntonon {

WayFinder::WayFinder(Session& session, QObject* parent) : QObject(parent), session_(session) {}

bool WayFinder::is_outdated() const {
    const auto analysis = session_.analysis();
    return analysis == nullptr || !is_of_this_channel() || !(session_.axis() == axis_)
           || analysis->goal != goal_;
}

bool WayFinder::is_of_this_channel() const {
    return session_.channel() != nullptr && session_.channel()->id == channel_;
}

Expected<void> WayFinder::begin(std::optional<int> length) {
    const auto analysis = session_.analysis();
    if (session_.channel() == nullptr || analysis == nullptr || analysis->goal == nullptr) {
        return refuse("", "there is no goal that filters could be looked for",
                      "choose or draw one (Goal pane)");
    }
    stop();
    goal_ = analysis->goal;
    channel_ = session_.channel()->id;
    axis_ = session_.axis();
    const auto ways = std::make_shared<const Ways>(WaysTask{goal_, axis_, length});
    rows_.clear();
    for (std::size_t i = 0; i < ways->size(); ++i) {
        rows_.push_back({QString::fromStdString(ways->name(i)), std::nullopt});
    }
    is_stopped_ = false;
    work_.begin(
        ways->size(), [ways](std::size_t i, const Watch& watch) { return ways->found(i, watch); },
        [this](std::size_t i, Way way) {
            rows_[i].way = std::move(way);
            emit changed();
        });
    emit changed();
    return {};
}

void WayFinder::stop() {
    if (is_busy()) {
        work_.stop();
        is_stopped_ = true;
        emit changed();
    }
}

} // namespace syntonon
