// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/way_finder.h"

#include <utility>

namespace syntonon {

WayFinder::WayFinder(Session& session, QObject* parent) : QObject(parent), session_(session) {}

WayFinder::~WayFinder() {
    watch_.stop();
    pool_.clear();
    pool_.waitForDone();
}

bool WayFinder::is_outdated() const {
    const auto analysis = session_.analysis();
    return analysis == nullptr || session_.channel() == nullptr
           || session_.channel()->id != channel_ || !(session_.axis() == axis_)
           || analysis->goal != goal_;
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
    found_ = 0;
    is_stopped_ = false;
    watch_ = Watch();
    ++round_;
    for (std::size_t i = 0; i < ways->size(); ++i) {
        rows_.push_back({QString::fromStdString(ways->name(i)), std::nullopt});
        pool_.start([this, ways, i, watch = watch_, round = round_] {
            Way way = ways->found(i, watch);
            QMetaObject::invokeMethod(
                this, [this, i, round, way = std::move(way)] { take(round, i, way); },
                Qt::QueuedConnection);
        });
    }
    emit changed();
    return {};
}

void WayFinder::stop() {
    if (is_busy()) {
        watch_.stop();
        pool_.clear();
        is_stopped_ = true;
        emit changed();
    }
}

void WayFinder::take(int round, std::size_t row, Way way) {
    if (round == round_ && !is_stopped_) {
        rows_[row].way = std::move(way);
        ++found_;
        emit changed();
    }
}

} // namespace syntonon
