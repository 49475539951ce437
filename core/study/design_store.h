// Every design that was made, kept: the only caller of design().
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/stage.h"

#include <cstddef>
#include <iterator>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

namespace syntonon {

// How stages are designed. Tests put kinds of their own in its place.
class Designer {
public:
    virtual ~Designer() = default;
    virtual Needs needs_of(const StageSpec& spec) const;
    virtual bool is_quick(const StageSpec& spec) const;
    virtual Expected<Design> design(const StageSpec& spec, const Brief& brief,
                                    const Watch& watch) const;
};
const Designer& designer_of_all_kinds();

// Designs by spec and brief, the least recently used let go when their filters hold more than so
// many bytes; so undo, a take or another channel with the same spec never designs again. What
// somebody holds is found all the same, so that what is in use is never designed twice. What was
// refused is kept too. May be asked from different threads.
class DesignStore {
public:
    static constexpr std::size_t usual_bytes = std::size_t{256} << 20;

    explicit DesignStore(std::size_t most_bytes = usual_bytes,
                         const Designer& designer = designer_of_all_kinds());

    // Shared and immutable.
    using Result = std::shared_ptr<const Expected<Design>>;

    // Null when it is not there.
    Result find(const StageSpec& spec, const Brief& brief);
    // Found, or made now in this thread. Two threads that ask for the same may both make it; they
    // get the same. What was stopped is handed out but not kept.
    Result design(const StageSpec& spec, const Brief& brief, const Watch& watch = {});

    bool is_quick(const StageSpec& spec) const { return designer_->is_quick(spec); }
    Needs needs_of(const StageSpec& spec) const { return designer_->needs_of(spec); }

    std::size_t designs_made() const;
    // Of what the store itself holds.
    std::size_t bytes() const;
    std::size_t size() const;

private:
    struct Entry {
        std::size_t hash;
        StageSpec spec;
        Brief brief; // only what is needed
        std::weak_ptr<const Expected<Design>> result;
        Result held; // null once it was let go
        std::size_t bytes;
    };
    using Entries = std::list<Entry>;
    Result find_kept(std::size_t hash, const StageSpec& spec, const Brief& brief);
    void keep(Entry entry);
    void let_go_beyond_most();
    void forget_what_nobody_holds();
    void erase(Entries& from, Entries::iterator entry);

    const Designer* designer_;
    std::size_t most_bytes_;
    mutable std::mutex mutex_;
    Entries entries_; // held here, the last used first
    Entries lent_;    // let go, but perhaps held elsewhere
    std::unordered_multimap<std::size_t, Entries::iterator> by_hash_;
    std::size_t bytes_ = 0, made_ = 0;
};

} // namespace syntonon
