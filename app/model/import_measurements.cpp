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

// The channel of that name, which is there afterwards.
SharedValue<Channel>& channel_named(Study& study, const std::string& name) {
    const auto found = std::ranges::find_if(
        study.channels, [&](const auto& channel) { return channel->name == name; });
    if (found != study.channels.end()) {
        return *found;
    }
    Channel made;
    made.id = fresh_id(study, name);
    made.name = name;
    study.channels.emplace_back(std::move(made));
    return study.channels.back();
}

std::vector<std::string> curve_names(const Study& study) {
    std::vector<std::string> names;
    for (const auto& curve : study.curves) {
        names.push_back(curve->name);
    }
    return names;
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
    std::vector<std::string> names = curve_names(study);
    std::set<std::string> emptied, made;
    std::string first;
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
            Channel& channel = channel_named(study, position.channel).edit();
            if (wishes.replace && emptied.insert(channel.id).second) {
                channel.measured.clear();
            }
            channel.measured.push_back({curve.id, 1, {}});
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
    session.curve_in_hand().take(first);
    return {};
}

} // namespace syntonon
