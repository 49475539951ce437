// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study_change.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>
#include <string_view>
#include <vector>

namespace syntonon {
namespace {

template <class T>
using ById = std::map<std::string_view, const T*>;

template <class T>
ById<T> by_id(const std::vector<SharedValue<T>>& items) {
    ById<T> found;
    for (const auto& item : items) {
        found[item->id] = &*item;
    }
    return found;
}

template <class T, class Same>
CountedChange counted(const ById<T>& before, const ById<T>& after, Same same) {
    CountedChange count;
    for (const auto& [id, item] : after) {
        const auto old = before.find(id);
        if (old == before.end()) {
            ++count.added;
        } else if (!same(*old->second, *item)) {
            ++count.changed;
        }
    }
    for (const auto& [id, item] : before) {
        count.removed += after.contains(id) ? 0 : 1;
    }
    return count;
}

template <class T>
CountedChange counted(const ById<T>& before, const ById<T>& after) {
    return counted(before, after, [](const T& a, const T& b) { return &a == &b || a == b; });
}

void collect(const Chain& chain, ById<Stage>& into) {
    for (const auto& stage : chain) {
        into[stage->id] = &*stage;
        for (const Chain* held : chains_in(*stage)) {
            collect(*held, into);
        }
    }
}

// A stage that holds others is the same while they are only changed themselves.
bool same_stage(const Stage& a, const Stage& b) {
    return &a == &b || a == b
           || (!chains_in(a).empty() && a.enabled == b.enabled && a.name == b.name
               && kind_of(a.spec) == kind_of(b.spec));
}

std::vector<std::string_view> order_of(const Chain& chain) {
    std::vector<std::string_view> ids;
    for (const auto& stage : chain) {
        ids.push_back(stage->id);
    }
    return ids;
}

// But for what its stages are themselves, and that some came or went.
bool same_channel(const Channel& a, const Channel& b) {
    const bool same_number = a.stages.size() == b.stages.size();
    return &a == &b
           || (a.name == b.name && a.colour == b.colour && a.goal == b.goal
               && a.measured == b.measured && a.average == b.average && a.takes == b.takes
               && a.difference == b.difference && a.bench == b.bench
               && (!same_number || order_of(a.stages) == order_of(b.stages)
                   || by_id(a.stages).size() != by_id(b.stages).size()));
}

CountedChange stages_between(const Study& before, const Study& after) {
    CountedChange all;
    const auto old = by_id(before.channels), now = by_id(after.channels);
    const auto add = [&](const Channel* from, const Channel* to) {
        ById<Stage> a, b;
        if (from != nullptr) {
            collect(from->stages, a);
        }
        if (to != nullptr) {
            collect(to->stages, b);
        }
        const CountedChange one = counted(a, b, same_stage);
        all.added += one.added;
        all.removed += one.removed;
        all.changed += one.changed;
    };
    for (const auto& [id, channel] : now) {
        const auto was = old.find(id);
        add(was != old.end() ? was->second : nullptr, channel);
    }
    for (const auto& [id, channel] : old) {
        if (!now.contains(id)) {
            add(channel, nullptr);
        }
    }
    return all;
}

template <class T>
ById<T> by_id(const std::vector<T>& items) {
    ById<T> found;
    for (const T& item : items) {
        found[item.id] = &item;
    }
    return found;
}

void add_words(const CountedChange& change, std::string_view one, std::string_view several,
               std::vector<std::string>& words) {
    const auto add = [&](std::size_t count, std::string_view what) {
        if (count > 0) {
            words.push_back(fmt::format("{} {} {}", count, count == 1 ? one : several, what));
        }
    };
    add(change.changed, "changed");
    add(change.added, "added");
    add(change.removed, "removed");
}

} // namespace

StudyChange change_between(const Study& before, const Study& after) {
    StudyChange change;
    change.stages = stages_between(before, after);
    change.channels = counted(by_id(before.channels), by_id(after.channels), same_channel);
    change.goals = counted(by_id(before.goals), by_id(after.goals));
    change.curves = counted(by_id(before.curves), by_id(after.curves));
    change.gates = counted(by_id(before.gates), by_id(after.gates));
    change.microphones = counted(by_id(before.microphones), by_id(after.microphones));
    change.test_signals = counted(by_id(before.test_signals), by_id(after.test_signals));
    change.deliveries = counted(by_id(before.deliveries), by_id(after.deliveries));
    change.name_or_rate =
        before.name != after.name || before.sample_rate_hz != after.sample_rate_hz;
    return change;
}

std::string to_text(const StudyChange& change) {
    std::vector<std::string> words;
    add_words(change.stages, "stage", "stages", words);
    add_words(change.channels, "channel", "channels", words);
    add_words(change.goals, "goal", "goals", words);
    add_words(change.curves, "curve", "curves", words);
    add_words(change.gates, "gate", "gates", words);
    add_words(change.microphones, "microphone", "microphones", words);
    add_words(change.test_signals, "signal", "signals", words);
    add_words(change.deliveries, "delivery", "deliveries", words);
    if (change.name_or_rate) {
        words.emplace_back("name or sample rate changed");
    }
    return words.empty() ? "nothing" : fmt::format("{}", fmt::join(words, ", "));
}

} // namespace syntonon
