// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_commands.h"

#include "app/widgets/words.h"
#include "core/study/compared_chain.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::optional<Slot> slot_in(const Session& session, const std::string& id) {
    return session.channel() != nullptr ? slot_of(session.channel()->stages, id) : std::nullopt;
}

bool is_channel(const Session& session, int index) {
    return index >= 0 && static_cast<std::size_t>(index) < session.study().channels.size();
}

// At the end where nothing is selected.
Slot behind_selected(const Session& session) {
    const auto slot = slot_in(session, session.selection().stage);
    return slot ? Slot{slot->holder, slot->chain, slot->place + 1}
                : Slot{{}, 0, session.channel()->stages.size()};
}

void put_stage(Session& session, const QString& name, Stage stage, const Slot& slot) {
    session.edit_channel(name, [&](Channel& channel) {
        give_fresh_ids(stage, channel.stages);
        insert_stage(channel.stages, slot, stage);
    });
    session.select_stage(stage.id);
    emit session.stage_added();
}

} // namespace

QString spoken_name(const Stage& stage) {
    return QString::fromStdString(spoken_name_of(stage));
}

void add_stage(Session& session, StageSpec spec, std::optional<Slot> slot) {
    if (session.channel() != nullptr) {
        Stage stage;
        stage.spec = std::move(spec);
        put_stage(session, tr("Add %1").arg(spoken_name(stage)), stage,
                  slot ? *slot : behind_selected(session));
    }
}

void add_stages(Session& session, const QString& title, const Chain& stages,
                std::optional<Slot> slot) {
    if (session.channel() == nullptr || stages.empty()) {
        return;
    }
    Slot next = slot ? *slot : behind_selected(session);
    std::string first;
    session.edit_channel(tr("Add %1").arg(title), [&](Channel& channel) {
        for (const auto& stage : stages) {
            Stage own = *stage;
            give_fresh_ids(own, channel.stages);
            first = first.empty() ? own.id : first;
            insert_stage(channel.stages, next, std::move(own));
            ++next.place;
        }
    });
    session.select_stage(first);
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void remove_stage(Session& session, std::string id) {
    const Stage* stage = session.stage(id);
    const auto slot = slot_in(session, id);
    if (stage == nullptr) {
        return;
    }
    session.edit_channel(tr("Remove %1").arg(spoken_name(*stage)),
                         [&](Channel& channel) { take_out_stage(channel.stages, id); });
    const Chain& left = *chain_at(session.channel()->stages, *slot);
    session.select_stage(left.empty() ? slot->holder
                                      : left[std::min(slot->place, left.size() - 1)]->id);
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void duplicate_stage(Session& session, std::string id) {
    if (const Stage* stage = session.stage(id)) {
        const Slot slot = *slot_in(session, id);
        const Stage copy = *stage;
        put_stage(session, tr("Duplicate %1").arg(spoken_name(copy)), copy,
                  {slot.holder, slot.chain, slot.place + 1});
    }
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void move_stage(Session& session, std::string id, const Slot& to) {
    if (const Stage* stage = session.stage(id)) {
        session.edit_channel(tr("Reorder %1").arg(spoken_name(*stage)),
                             [&](Channel& channel) { move_stage(channel.stages, id, to); });
        session.select_stage(id);
    }
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void shift_stage(Session& session, std::string id, int by) {
    const auto slot = slot_in(session, id);
    if (!slot) {
        return;
    }
    const std::size_t last = chain_at(session.channel()->stages, *slot)->size() - 1;
    const bool leaves = by < 0 ? slot->place == 0 : slot->place == last;
    if (!leaves) {
        Slot to = *slot;
        to.place += static_cast<std::size_t>(by); // down by one wraps, as it should
        move_stage(session, id, to);
    } else if (const auto holder = slot_in(session, slot->holder)) {
        move_stage(session, id, {holder->holder, holder->chain, holder->place + (by > 0 ? 1 : 0)});
    }
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void shift_stage_aside(Session& session, std::string id, int by) {
    const auto slot = slot_in(session, id);
    if (!slot) {
        return;
    }
    const Stage* holder = session.stage(slot->holder);
    const auto next = static_cast<std::size_t>(static_cast<std::ptrdiff_t>(slot->chain) + by);
    if (holder != nullptr && next < chains_in(*holder).size()) {
        move_stage(session, id, {slot->holder, next, slot->place});
        return;
    }
    const Chain& own = *chain_at(session.channel()->stages, *slot);
    if (by > 0 && slot->place + 1 < own.size() && layout_of(*own[slot->place + 1])) {
        move_stage(session, id, {own[slot->place + 1]->id, 0, 0});
    }
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void switch_stage(Session& session, std::string id, bool enabled) {
    if (const Stage* stage = session.stage(id)) {
        const QString name =
            (enabled ? tr("Switch on %1") : tr("Switch off %1")).arg(spoken_name(*stage));
        session.edit_channel(name, [&](Channel& channel) {
            edit_stage(channel.stages, id, [&](Stage& s) { s.enabled = enabled; });
        });
    }
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void rename_stage(Session& session, std::string id, const QString& name) {
    if (const Stage* stage = session.stage(id)) {
        session.edit_channel(tr("Rename %1").arg(spoken_name(*stage)), [&](Channel& channel) {
            edit_stage(channel.stages, id,
                       [&](Stage& s) { s.name = name.trimmed().toStdString(); });
        });
    }
}

// NOLINTNEXTLINE(performance-unnecessary-value-param): see the header
void copy_stage_to(Session& session, std::string id, int channel) {
    const Stage* stage = session.stage(id);
    if (stage == nullptr || !is_channel(session, channel)) {
        return;
    }
    Stage copy = *stage;
    session.edit(tr("Copy %1 to %2")
                     .arg(spoken_name(copy),
                          QString::fromStdString(
                              session.study().channels[static_cast<std::size_t>(channel)]->name)),
                 [&](Study& study) {
                     Channel& target = study.channels[static_cast<std::size_t>(channel)].edit();
                     give_fresh_ids(copy, target.stages);
                     target.stages.emplace_back(copy);
                 });
}

void select_neighbour(Session& session, int by) {
    if (session.channel() == nullptr) {
        return;
    }
    std::vector<std::string> ids;
    visit_stages(session.channel()->stages,
                 [&](const Stage& stage, const Slot&, int) { ids.push_back(stage.id); });
    const auto now = std::ranges::find(ids, session.selection().stage) - ids.begin();
    const auto count = static_cast<std::ptrdiff_t>(ids.size());
    const auto next = now == count ? 0 : std::clamp<std::ptrdiff_t>(now + by, 0, count - 1);
    if (count > 0) {
        session.select_stage(ids[static_cast<std::size_t>(next)]);
    }
}

void add_fir_of_chain(Session& session, FirPlace place, FirPhase phase) {
    if (session.channel() == nullptr) {
        return;
    }
    FirSpec spec;
    spec.method = FromChainFir();
    spec.phase = phase;
    spec.length = static_cast<int>(length_for_chain(
        session.analysis()->chain, phase != FirPhase::minimum && phase != FirPhase::as_made));
    Stage fir;
    fir.spec = spec;
    Channel channel = *session.channel();
    give_fresh_ids(fir, channel.stages);
    channel.stages.emplace_back(fir);
    const auto selected = static_cast<std::size_t>(session.selection().channel);
    if (place == FirPlace::here) {
        session.edit_channel(tr("Add one FIR of the chain"),
                             [&](Channel& c) { c.stages = channel.stages; });
    } else {
        const QString name = QString::fromStdString(channel.name);
        channel.name += ", one FIR";
        channel.id = fresh_id(session.study(), channel.name);
        channel.takes.clear();
        channel.colour.clear();
        session.edit(tr("Add one FIR of %1 in a new channel").arg(name), [&](Study& study) {
            study.channels.insert(study.channels.begin() + static_cast<std::ptrdiff_t>(selected)
                                      + 1,
                                  SharedValue<Channel>(channel));
        });
        session.select_channel(static_cast<int>(selected) + 1);
    }
    session.select_stage(fir.id);
}

void add_channel(Session& session) {
    Channel channel;
    channel.name = fmt::format("Channel {}", session.study().channels.size() + 1);
    channel.id = fresh_id(session.study(), channel.name);
    if (session.channel() != nullptr) {
        channel.goal = session.channel()->goal;
    }
    session.edit(tr("Add %1").arg(QString::fromStdString(channel.name)),
                 [&](Study& study) { study.channels.emplace_back(channel); });
    session.select_channel(static_cast<int>(session.study().channels.size()) - 1);
}

void remove_channel(Session& session, int index) {
    if (is_channel(session, index) && session.study().channels.size() > 1) {
        const QString name =
            QString::fromStdString(session.study().channels[static_cast<std::size_t>(index)]->name);
        session.edit(tr("Remove channel %1").arg(name), [&](Study& study) {
            const std::string key = key_of(*study.channels[static_cast<std::size_t>(index)]);
            study.channels.erase(study.channels.begin() + index);
            for (auto& channel : study.channels) {
                if (std::ranges::count(channel->bench.compared, key) > 0) {
                    std::erase(channel.edit().bench.compared, key);
                }
            }
        });
    }
}

void recolour_channel(Session& session, int index, const QString& colour) {
    if (is_channel(session, index)) {
        const auto at = static_cast<std::size_t>(index);
        const QString name = QString::fromStdString(session.study().channels[at]->name);
        session.edit(tr("Colour channel %1").arg(name), [&](Study& study) {
            study.channels[at].edit().colour = colour.toStdString();
        });
    }
}

void rename_channel(Session& session, int index, const QString& name) {
    if (is_channel(session, index) && !name.trimmed().isEmpty()) {
        session.edit(tr("Rename channel to %1").arg(name.trimmed()), [&](Study& study) {
            study.channels[static_cast<std::size_t>(index)].edit().name =
                name.trimmed().toStdString();
        });
    }
}

} // namespace syntonon
