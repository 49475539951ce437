// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/design_store.h"

#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

std::size_t bytes_of(const Expected<Design>& design, const Brief& brief) {
    std::size_t bytes = 512; // of the entry itself, roughly
    bytes += design ? design->filter.bytes() : 0;
    bytes += brief.above.bytes();
    const auto add = [&](const SampledCurve& curve) {
        bytes += 3 * sizeof(double) * curve.frequency_hz.size();
    };
    if (brief.wished != nullptr) {
        for (const WishedPart& part : *brief.wished) {
            bytes += 5 * sizeof(double) * part.frequency_hz.size();
        }
    }
    for (const SeenCurve& seen : brief.seen.positions) {
        add(*seen.curve);
    }
    for (const auto& curve : {brief.seen.as_one, brief.seen.timing}) {
        if (curve != nullptr) {
            add(*curve);
        }
    }
    return bytes;
}

} // namespace

Needs Designer::needs_of(const StageSpec& spec) const {
    return syntonon::needs_of(spec);
}

bool Designer::is_quick(const StageSpec& spec) const {
    return is_quick_to_design(spec);
}

Expected<Design> Designer::design(const StageSpec& spec, const Brief& brief,
                                  const Watch& watch) const {
    return syntonon::design(spec, brief, watch);
}

const Designer& designer_of_all_kinds() {
    static const Designer designer;
    return designer;
}

DesignStore::DesignStore(std::size_t most_bytes, const Designer& designer)
    : designer_(&designer), most_bytes_(most_bytes) {}

DesignStore::Result DesignStore::find_kept(std::size_t hash, const StageSpec& spec,
                                           const Brief& brief) {
    const auto [first, last] = by_hash_.equal_range(hash);
    for (auto found = first; found != last; ++found) {
        const auto entry = found->second;
        if (!(entry->spec == spec) || !is_same(entry->brief, brief)) {
            continue;
        }
        if (entry->held != nullptr) {
            entries_.splice(entries_.begin(), entries_, entry);
            return entry->held;
        }
        if (Result lent = entry->result.lock()) {
            entry->held = lent;
            entries_.splice(entries_.begin(), lent_, entry);
            bytes_ += entry->bytes;
            let_go_beyond_most();
            return lent;
        }
    }
    return nullptr;
}

void DesignStore::erase(Entries& from, Entries::iterator entry) {
    const auto [first, last] = by_hash_.equal_range(entry->hash);
    by_hash_.erase(
        std::find_if(first, last, [&](const auto& found) { return found.second == entry; }));
    from.erase(entry);
}

void DesignStore::forget_what_nobody_holds() {
    for (auto entry = lent_.begin(); entry != lent_.end();) {
        const auto next = std::next(entry);
        if (entry->result.expired()) {
            erase(lent_, entry);
        }
        entry = next;
    }
}

// The newest stays, however large: somebody is about to use it.
void DesignStore::let_go_beyond_most() {
    if (bytes_ <= most_bytes_) {
        return;
    }
    while (bytes_ > most_bytes_ && entries_.size() > 1) {
        const auto last = std::prev(entries_.end());
        bytes_ -= last->bytes;
        last->held.reset();
        lent_.splice(lent_.begin(), entries_, last);
    }
    forget_what_nobody_holds();
}

void DesignStore::keep(Entry entry) {
    bytes_ += entry.bytes;
    entries_.push_front(std::move(entry));
    by_hash_.emplace(entries_.front().hash, entries_.begin());
    let_go_beyond_most();
}

DesignStore::Result DesignStore::find(const StageSpec& spec, const Brief& brief) {
    const Brief needed = only(brief, designer_->needs_of(spec));
    const std::size_t hash = hash_of(spec);
    const std::lock_guard lock(mutex_);
    return find_kept(hash, spec, needed);
}

DesignStore::Result DesignStore::design(const StageSpec& spec, const Brief& brief,
                                        const Watch& watch) {
    const Brief needed = only(brief, designer_->needs_of(spec));
    const std::size_t hash = hash_of(spec);
    {
        const std::lock_guard lock(mutex_);
        if (auto found = find_kept(hash, spec, needed)) {
            return found;
        }
        ++made_;
    }
    auto made = std::make_shared<const Expected<Design>>(designer_->design(spec, needed, watch));
    if (watch.is_stopped() && !*made) {
        return made;
    }
    const std::lock_guard lock(mutex_);
    if (auto found = find_kept(hash, spec, needed)) {
        return found; // another thread was quicker
    }
    keep({hash, spec, needed, made, made, bytes_of(*made, needed)});
    return made;
}

std::size_t DesignStore::designs_made() const {
    const std::lock_guard lock(mutex_);
    return made_;
}

std::size_t DesignStore::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

std::size_t DesignStore::size() const {
    const std::lock_guard lock(mutex_);
    return entries_.size();
}

} // namespace syntonon
