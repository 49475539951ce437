// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/slow_roots.h"

namespace syntonon {
namespace {

constexpr int apart_ms = 600;

} // namespace

SlowRoots::SlowRoots(QObject* parent) : QObject(parent) {
    rest_.setSingleShot(true);
    connect(&rest_, &QTimer::timeout, this, &SlowRoots::found); // who draws them asks again
}

const Expected<Roots>* SlowRoots::of(const std::string& stage, const Filter& filter) {
    if (filter.has_roots_at_hand()) {
        last_.insert_or_assign(stage, filter);
        return &filter.roots();
    }
    if (since_.isValid() && since_.elapsed() < apart_ms) {
        if (!rest_.isActive()) {
            rest_.start(static_cast<int>(apart_ms - since_.elapsed()));
        }
    } else if (!work_.is_busy()) {
        since_.start();
        look_for(stage, filter);
    }
    const auto last = last_.find(stage);
    return last != last_.end() ? &last->second.roots() : nullptr;
}

// One after the other: who asks again when some were found gets the next ones looked for.
void SlowRoots::look_for(const std::string& stage, const Filter& filter) {
    work_.begin(
        [filter](const Watch&) {
            filter.roots();
            return filter;
        },
        [this, stage](Filter done) {
            last_.insert_or_assign(stage, std::move(done));
            emit found();
        });
}

} // namespace syntonon
