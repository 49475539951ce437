// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_commands.h"

#include "app/widgets/words.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

bool in_chain(const Session& session, int index) {
    return session.channel() != nullptr && index >= 0
           && static_cast<std::size_t>(index) < session.channel()->stages.size();
}

const Stage& stage_at(const Session& session, int index) {
    return session.channel()->stages[static_cast<std::size_t>(index)];
}

bool is_channel(const Session& session, int index) {
    return index >= 0 && static_cast<std::size_t>(index) < session.study().channels.size();
}

void insert_stage(Session& session, const QString& name, Stage stage, int index) {
    session.edit_channel(name, [&](Channel& channel) {
        stage.id = fresh_stage_id(channel);
        channel.stages.insert(channel.stages.begin() + index, stage);
    });
    session.select_stage(index);
}

} // namespace

QString spoken_name(const Stage& stage) {
    const std::string summary = summary_of(stage);
    return QString::fromStdString(
        fmt::format("{} {}", title_of(stage), summary.substr(0, summary.find("Hz") + 2)));
}

void add_stage(Session& session, StageSpec spec) {
    if (session.channel() == nullptr) {
        return;
    }
    Stage stage;
    stage.spec = std::move(spec);
    const int last = static_cast<int>(session.channel()->stages.size());
    const int index = session.selection().stage >= 0 ? session.selection().stage + 1 : last;
    insert_stage(session, tr("Add %1").arg(spoken_name(stage)), stage, index);
}

void remove_stage(Session& session, int index) {
    if (!in_chain(session, index)) {
        return;
    }
    const QString name = tr("Remove %1").arg(spoken_name(stage_at(session, index)));
    session.edit_channel(
        name, [&](Channel& channel) { channel.stages.erase(channel.stages.begin() + index); });
}

void duplicate_stage(Session& session, int index) {
    if (in_chain(session, index)) {
        const Stage copy = stage_at(session, index);
        insert_stage(session, tr("Duplicate %1").arg(spoken_name(copy)), copy, index + 1);
    }
}

void move_stage(Session& session, int from, int to) {
    if (!in_chain(session, from) || from == to) {
        return;
    }
    const QString name = tr("Reorder %1").arg(spoken_name(stage_at(session, from)));
    const int last = static_cast<int>(session.channel()->stages.size()) - 1;
    to = std::clamp(to, 0, last);
    session.edit_channel(name, [&](Channel& channel) {
        Stage moved = std::move(channel.stages[static_cast<std::size_t>(from)]);
        channel.stages.erase(channel.stages.begin() + from);
        channel.stages.insert(channel.stages.begin() + to, std::move(moved));
    });
    session.select_stage(to);
}

void switch_stage(Session& session, int index, bool enabled) {
    if (in_chain(session, index)) {
        const QString name = (enabled ? tr("Switch on %1") : tr("Switch off %1"))
                                 .arg(spoken_name(stage_at(session, index)));
        session.edit_channel(name, [&](Channel& channel) {
            channel.stages[static_cast<std::size_t>(index)].enabled = enabled;
        });
    }
}

void rename_stage(Session& session, int index, const QString& name) {
    if (in_chain(session, index)) {
        session.edit_channel(
            tr("Rename %1").arg(spoken_name(stage_at(session, index))), [&](Channel& channel) {
                channel.stages[static_cast<std::size_t>(index)].name = name.trimmed().toStdString();
            });
    }
}

void copy_stage_to(Session& session, int index, int channel) {
    if (!in_chain(session, index) || !is_channel(session, channel)) {
        return;
    }
    Stage copy = stage_at(session, index);
    session.edit(tr("Copy %1 to %2")
                     .arg(spoken_name(copy),
                          QString::fromStdString(
                              session.study().channels[static_cast<std::size_t>(channel)]->name)),
                 [&](Study& study) {
                     Channel& target = study.channels[static_cast<std::size_t>(channel)].edit();
                     copy.id = fresh_stage_id(target);
                     target.stages.push_back(copy);
                 });
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
        session.edit(tr("Remove channel %1").arg(name),
                     [&](Study& study) { study.channels.erase(study.channels.begin() + index); });
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
