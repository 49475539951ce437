// Every method that can meet a goal, each as short as it can be: a row for each, to be compared.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/ways/candidates.h"
#include "core/study/ways/facts.h"

#include <cstddef>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct WaysTask {
    std::shared_ptr<const ResolvedGoal> goal; // not null
    Axis axis;
    std::optional<int> length; // of all FIRs; nothing: each as short as meets the level
};

struct Way {
    std::string name;
    StageSpec spec;               // with the length that was found
    std::optional<Filter> filter; // with facts and a verdict of the whole goal
    WayFacts facts;
    Verdict verdict;
    bool meets_level = false; // all that the goal asks of the level
    bool meets_goal = false;  // and all else
    // Why there is no filter, or what is missed; with the way out where there is one.
    std::string why;
};

// Rows may be found in any order and from any thread: each by itself.
class Ways {
public:
    static constexpr int shortest_taps = 3, longest_taps = 8191;

    explicit Ways(WaysTask task);

    std::size_t size() const { return candidates_.all.size(); }
    const std::string& name(std::size_t i) const { return candidates_.all[i].name; }

    // FIRs: lengths are doubled until one meets what the goal asks of the level, then halved to
    // where the one below (two below, where even lengths cannot) does not; with windows three
    // shorter ones are looked at, too, since their ripples do not fall evenly. Of several
    // parameters the first counts that meets it. Recursive filters take the least order for the
    // tolerances. A goal that asks nothing or contradicts itself, and a watch that says stop, make
    // a row without a filter that says so.
    Way found(std::size_t i, const Watch& watch) const;

private:
    struct Trial;
    class Search;
    enum class Judged { fully, until_it_fails };
    Trial tried(const StageSpec& spec, const WayCandidate& by, Judged judged,
                const Watch& watch) const;

    WaysTask task_;
    Brief brief_;
    std::shared_ptr<const ResolvedGoal> level_; // what the goal asks of the level alone
    std::string obstacle_;                      // to all of them; empty: none
    WayCandidates candidates_;
};

} // namespace syntonon
