// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/slow_roots.h"

namespace syntonon {

const Expected<Roots>* SlowRoots::of(const std::string& stage, const Filter& filter) {
    if (filter.has_roots_at_hand()) {
        last_.insert_or_assign(stage, filter);
        return &filter.roots();
    }
    if (!work_.is_busy()) {
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
