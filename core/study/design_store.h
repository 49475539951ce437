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
// many bytes; so undo, a take or another channel with the same spec never designs again. What was
// refused is kept too. May be asked from different threads.
class DesignStore {
public:
    static constexpr std::size_t usual_bytes = std::size_t{256} << 20;

    explicit DesignStore(std::size_t most_bytes = usual_bytes,
                         const Designer& designer = designer_of_all_kinds());

    // Shared and immutable; it stays while somebody holds it.
    using Result = std::shared_ptr<const Expected<Design>>;

    // Null when it is not there.
    Result find(const StageSpec& spec, const Brief& brief);
    // Found, or made now in this thread. Two threads that ask for the same may both make it; they
    // get the same. What was stopped is handed out but not kept.
    Result design(const StageSpec& spec, const Brief& brief, const Watch& watch = {});

    bool is_quick(const StageSpec& spec) const { return designer_->is_quick(spec); }
    Needs needs_of(const StageSpec& spec) const { return designer_->needs_of(spec); }

    std::size_t designs_made() const;
    std::size_t bytes() const;
    std::size_t size() const;

private:
    struct Entry {
        std::size_t hash;
        StageSpec spec;
        Brief brief; // only what is needed
        Result result;
        std::size_t bytes;
    };
    using Entries = std::list<Entry>; // the last used first
    Result find_kept(std::size_t hash, const StageSpec& spec, const Brief& brief);
    void keep(Entry entry);
    void forget_last();

    const Designer* designer_;
    std::size_t most_bytes_;
    mutable std::mutex mutex_;
    Entries entries_;
    std::unordered_multimap<std::size_t, Entries::iterator> by_hash_;
    std::size_t bytes_ = 0, made_ = 0;
};

} // namespace syntonon
