// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/design_store.h"

#include <utility>

namespace syntonon {
namespace {

std::size_t bytes_of(const Expected<Design>& design, const Brief& brief) {
    std::size_t bytes = 512; // of the entry itself, roughly
    bytes += design ? design->filter.bytes() : 0;
    bytes += brief.above.bytes();
    const auto add = [&](const std::shared_ptr<const SampledCurve>& curve) {
        bytes += curve != nullptr ? 3 * sizeof(double) * curve->frequency_hz.size() : 0;
    };
    add(brief.wished);
    for (const SeenCurve& seen : brief.seen) {
        add(seen.curve);
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
        if (entry->spec == spec && is_same(entry->brief, brief)) {
            entries_.splice(entries_.begin(), entries_, entry);
            return entry->result;
        }
    }
    return nullptr;
}

void DesignStore::forget_last() {
    const auto last = std::prev(entries_.end());
    const auto [from, to] = by_hash_.equal_range(last->hash);
    for (auto found = from; found != to; ++found) {
        if (found->second == last) {
            by_hash_.erase(found);
            break;
        }
    }
    bytes_ -= last->bytes;
    entries_.pop_back();
}

void DesignStore::keep(Entry entry) {
    bytes_ += entry.bytes;
    entries_.push_front(std::move(entry));
    by_hash_.emplace(entries_.front().hash, entries_.begin());
    // The newest stays, however large: somebody is about to use it.
    while (bytes_ > most_bytes_ && entries_.size() > 1) {
        forget_last();
    }
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
    keep({hash, spec, needed, made, bytes_of(*made, needed)});
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
