// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/way_commands.h"

#include "app/widgets/words.h"
#include "core/study/chain.h"
#include "core/study/kinds.h"

namespace syntonon {
namespace {

bool is_of_a_way(const Stage& stage) {
    return std::holds_alternative<FirSpec>(*stage.spec)
           || std::holds_alternative<ClassicalSpec>(*stage.spec);
}

struct Placed {
    Chain chain;
    std::string id; // of the way's stage
    bool is_new;
};

Placed placed(const Session& session, const StageSpec& spec) {
    const Stage* selected = session.stage();
    Placed placed{session.channel()->stages, session.selection().stage, false};
    if (selected != nullptr && is_of_a_way(*selected)) {
        edit_stage(placed.chain, placed.id, [&](Stage& stage) { stage.spec = spec; });
        return placed;
    }
    Stage stage;
    stage.spec = spec;
    give_fresh_ids(stage, placed.chain);
    const auto behind = slot_of(placed.chain, placed.id);
    insert_stage(placed.chain,
                 behind ? Slot{behind->holder, behind->chain, behind->place + 1}
                        : Slot{{}, 0, placed.chain.size()},
                 stage);
    return {std::move(placed.chain), stage.id, true};
}

QString name_of(const Way& way) {
    return QString::fromStdString(way.name);
}

} // namespace

void take_way(Session& session, const Way& way) {
    if (session.channel() == nullptr || !way.filter) {
        return;
    }
    const Placed made = placed(session, way.spec);
    session.edit_channel(tr("Take “%1”").arg(name_of(way)),
                         [&](Channel& channel) { channel.stages = made.chain; });
    if (made.is_new) {
        session.select_stage(made.id);
    }
}

void keep_way(Session& session, const Way& way) {
    if (session.channel() == nullptr || !way.filter) {
        return;
    }
    Take take;
    take.id = fresh_take_id(*session.channel());
    take.name = way.name;
    take.stages = placed(session, way.spec).chain;
    session.edit_channel(tr("Keep “%1” as a take").arg(name_of(way)),
                         [&](Channel& channel) { channel.takes.emplace_back(take); });
}

std::optional<Filter> chain_with(const Session& session, const StageSpec& spec,
                                 const Filter& filter) {
    if (session.channel() == nullptr || session.analysis() == nullptr) {
        return std::nullopt;
    }
    const Placed made = placed(session, spec);
    std::vector<Filter> filters;
    for (const Stage* stage : stages_that_count(made.chain)) {
        const StageAnalysis* known = session.analysis()->stage(stage->id);
        if (stage->id != made.id && (known == nullptr || !known->filter)) {
            return std::nullopt;
        }
        filters.push_back(stage->id == made.id ? filter : *known->filter);
    }
    return series(filters);
}

} // namespace syntonon
