// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/crossover_commands.h"

#include "app/model/stage_commands.h"
#include "app/widgets/words.h"
#include "core/study/kinds.h"

#include <algorithm>

namespace syntonon {
namespace {

QString name_of_way(const Session& session, int way) {
    return QString::fromStdString(way_name(way, ways_of(*selected_crossover(session))));
}

} // namespace

const CrossoverSpec* selected_crossover(const Session& session) {
    const Stage* stage = session.stage();
    return stage != nullptr ? std::get_if<CrossoverSpec>(&*stage->spec) : nullptr;
}

std::optional<WayPlace> selected_way(const Session& session) {
    return selected_crossover(session) != nullptr
               ? std::optional(WayPlace{session.channel()->id, session.stage()->id})
               : std::nullopt;
}

void edit_crossover(Session& session, const QString& name,
                    const std::function<void(CrossoverSpec&)>& change) {
    if (selected_crossover(session) != nullptr) {
        session.edit_stage(name.arg(spoken_name(*session.stage())), [&](Stage& stage) {
            change(std::get<CrossoverSpec>(stage.spec.edit()));
        });
    }
}

void give_way(Session& session, int way, const std::string& channel) {
    const auto asking = selected_way(session);
    if (!asking) {
        return;
    }
    const QString name = name_of_way(session, way);
    if (!channel.empty()) {
        const QString to = text_of(channel_of(session.study(), channel)->name);
        session.edit(tr("Give %1 the way “%2”").arg(to, name),
                     [&](Study& study) { put_way(study, *asking, way, channel); });
        return;
    }
    Channel added;
    added.name = way_name(way, ways_of(*selected_crossover(session)));
    added.id = fresh_id(session.study(), added.name);
    added.domain = session.channel()->domain;
    session.edit(tr("Add a channel for the way “%1”").arg(name), [&](Study& study) {
        // Next to the others, in the order of their ways.
        const auto at =
            std::ranges::find(study.channels, asking->channel, [](const auto& c) { return c->id; });
        const int own = crossover_at(study, *asking)->way;
        study.channels.insert(
            way > own ? at + std::min<std::ptrdiff_t>(way - own, study.channels.end() - at) : at,
            SharedValue<Channel>(added));
        put_way(study, *asking, way, added.id);
    });
    const auto& all = session.study().channels;
    const auto selected =
        std::ranges::find(all, asking->channel, [](const auto& c) { return c->id; });
    session.select({static_cast<int>(selected - all.begin()), asking->stage});
}

void give_ways_by_range(Session& session) {
    const auto asking = selected_way(session);
    if (!asking) {
        return;
    }
    const auto offers = ways_by_range(session.study(), *asking, session.briefs());
    if (!offers.empty()) {
        session.edit(tr("Give the ways of the crossover by range"), [&](Study& study) {
            for (const WayOffer& offer : offers) {
                put_way(study, *asking, offer.way, offer.channel);
            }
        });
    }
}

void take_way(Session& session, int way) {
    if (const auto asking = selected_way(session)) {
        session.edit(tr("Take the way “%1” away").arg(name_of_way(session, way)),
                     [&](Study& study) { take_way(study, *asking, way); });
    }
}

void set_ways(Session& session, int ways) {
    if (const auto asking = selected_way(session)) {
        session.edit(tr("Cross over into %1 ways").arg(ways),
                     [&](Study& study) { set_ways(study, *asking, ways); });
    }
}

void set_height(Session& session, const WayPlace& place, double height_m) {
    session.edit(tr("Move a source of the crossover"), [&](Study& study) {
        const auto at =
            std::ranges::find(study.channels, place.channel, [](const auto& c) { return c->id; });
        edit_stage(at->edit().stages, place.stage, [&](Stage& stage) {
            std::get<CrossoverSpec>(stage.spec.edit()).height_m = height_m;
        });
    });
}

Expected<void> align_ways(Session& session) {
    const auto asking = selected_way(session);
    if (!asking) {
        return {};
    }
    Study aligned = session.study();
    auto done = align_ways(aligned, ways_around(aligned, *asking), session.briefs());
    if (done) {
        session.edit(tr("Align the ways of the crossover"), [&](Study& study) { study = aligned; });
    }
    return done;
}

} // namespace syntonon
