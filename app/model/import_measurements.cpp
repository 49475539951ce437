// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/import_measurements.h"

#include "app/widgets/words.h"
#include "core/curve/worked_out.h"
#include "core/exchange/position_names.h"
#include "core/study/origins.h"

#include <algorithm>
#include <set>
#include <utility>

namespace syntonon {
namespace {

// That of a new study, as nobody has touched it.
bool is_untouched(const Study& study) {
    return study.channels.size() == 1 && study.channels == empty_study().channels;
}

// The channel of that name, which is there afterwards.
SharedValue<Channel>& channel_named(Study& study, const std::string& name) {
    const auto found = std::ranges::find_if(
        study.channels, [&](const auto& channel) { return channel->name == name; });
    if (found != study.channels.end()) {
        return *found;
    }
    if (is_untouched(study)) {
        study.channels.clear();
    }
    Channel made;
    made.id = fresh_id(study, name);
    made.name = name;
    study.channels.emplace_back(std::move(made));
    return study.channels.back();
}

// One of those that were measured, so that something of it is seen.
void show_measured(Session& session, const std::vector<std::string>& channels) {
    const auto is_one = [&](const auto& channel) {
        return std::ranges::find(channels, channel->name) != channels.end();
    };
    const auto& all = session.study().channels;
    const Channel* shown = session.channel();
    if (shown != nullptr && std::ranges::find(channels, shown->name) != channels.end()) {
        return;
    }
    const auto first = std::ranges::find_if(all, is_one);
    if (first != all.end()) {
        session.select_channel(static_cast<int>(first - all.begin()));
    }
}

std::vector<std::string> curve_names(const Study& study) {
    std::vector<std::string> names;
    for (const auto& curve : study.curves) {
        names.push_back(curve->name);
    }
    return names;
}

// By a channel's set or a goal's target.
bool is_used(const Study& study, const std::string& curve) {
    const auto in_set = [&](const auto& channel) {
        return std::ranges::find(channel->measured, curve, &Position::curve)
               != channel->measured.end();
    };
    const auto in_goal = [&](const auto& goal) {
        const auto& source = goal->target.source;
        return source && source->kind == TargetSource::Kind::curve && source->curve == curve;
    };
    return std::ranges::any_of(study.channels, in_set) || std::ranges::any_of(study.goals, in_goal);
}

// Without what the channels to be measured have; a curve that nothing else uses goes, too.
void make_room(Study& study, const std::vector<NewPosition>& positions) {
    std::vector<std::string> left;
    for (auto& channel : study.channels) {
        const bool replaced =
            std::ranges::find(positions, channel->name, &NewPosition::channel) != positions.end();
        if (replaced && !channel->measured.empty()) {
            for (const Position& position : std::exchange(channel.edit().measured, {})) {
                left.push_back(position.curve);
            }
        }
    }
    std::erase_if(study.curves, [&](const auto& curve) {
        return std::ranges::find(left, curve->id) != left.end() && !is_used(study, curve->id);
    });
}

void give_origin(const ImportWishes& wishes, Curve& curve) {
    if (!wishes.microphone.empty()) {
        keep_as_measured(curve);
    }
    if (curve.origin) {
        curve.origin->gate = curve.origin->measured->is_impulse() ? wishes.gate : "";
        curve.origin->microphone = wishes.microphone;
    }
}

} // namespace

Expected<void> import_measurements(Session& session, std::vector<NewPosition> positions,
                                   const ImportWishes& wishes) {
    Study study = session.study();
    study.impulses_beside = wishes.beside;
    if (wishes.replace) {
        make_room(study, positions);
    }
    std::vector<std::string> names = curve_names(study);
    std::set<std::string> made;
    std::string first;
    std::vector<std::string> channels;
    for (NewPosition& position : positions) {
        Curve curve = std::move(position.curve);
        const std::string wish = position.channel.empty()
                                     ? position.position
                                     : position.channel + ", " + position.position;
        curve.name = free_name(wish, names);
        curve.id = fresh_id(study, curve.name);
        names.push_back(curve.name);
        give_origin(wishes, curve);
        if (!position.channel.empty()) {
            channels.push_back(position.channel);
            channel_named(study, position.channel).edit().measured.push_back({curve.id, 1, {}});
        }
        first = first.empty() ? curve.id : first;
        made.insert(curve.id);
        study.curves.emplace_back(std::move(curve));
    }
    if (auto ok = work_out_curves(study, [&](const Curve& c) { return made.contains(c.id); });
        !ok) {
        return ok;
    }
    session.edit(tr("Import %1")
                     .arg(counted(static_cast<qint64>(positions.size()), "position", "positions")),
                 [&](Study& now) { now = std::move(study); });
    show_measured(session, channels);
    session.curve_in_hand().take(first);
    return {};
}

} // namespace syntonon
