// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/take_commands.h"

#include "app/widgets/words.h"
#include "core/study/compared_chain.h"

namespace syntonon {
namespace {

const Take* take_at(const Session& session, int index) {
    const Channel* channel = session.channel();
    return channel != nullptr && index >= 0 && index < static_cast<int>(channel->takes.size())
               ? &*channel->takes[static_cast<std::size_t>(index)]
               : nullptr;
}

QString quoted(const Take& take) {
    return QStringLiteral("“%1”").arg(QString::fromStdString(take.name));
}

// A step on one take; nothing happens when it is not there.
void edit_take(Session& session, int index, const QString& name,
               const std::function<void(Take&)>& change) {
    if (const Take* take = take_at(session, index)) {
        session.edit_channel(name.arg(quoted(*take)), [&](Channel& channel) {
            change(channel.takes[static_cast<std::size_t>(index)].edit());
        });
    }
}

} // namespace

void freeze_take(Session& session, const QString& name) {
    const Channel* channel = session.channel();
    if (channel == nullptr) {
        return;
    }
    Take take;
    take.id = fresh_take_id(*channel);
    take.name = name.isEmpty()
                    ? tr("take %1").arg(QString::fromStdString(take.id).mid(1)).toStdString()
                    : name.toStdString();
    take.stages = channel->stages;
    session.edit_channel(tr("Freeze the take %1").arg(quoted(take)),
                         [&](Channel& c) { c.takes.emplace_back(take); });
}

void rename_take(Session& session, int index, const QString& name) {
    const Take* take = take_at(session, index);
    if (take != nullptr && !name.trimmed().isEmpty()
        && name.trimmed() != QString::fromStdString(take->name)) {
        edit_take(session, index, tr("Rename the take %1"),
                  [&](Take& t) { t.name = name.trimmed().toStdString(); });
    }
}

void show_take(Session& session, int index, bool shown) {
    const Take* take = take_at(session, index);
    if (take != nullptr && take->shown != shown) {
        edit_take(session, index, shown ? tr("Show the take %1") : tr("Hide the take %1"),
                  [&](Take& t) { t.shown = shown; });
    }
}

void show_only_take(Session& session, int index) {
    if (const Take* take = take_at(session, index)) {
        session.edit_channel(tr("Show only the take %1").arg(quoted(*take)), [&](Channel& channel) {
            for (std::size_t i = 0; i < channel.takes.size(); ++i) {
                channel.takes[i].edit().shown = static_cast<int>(i) == index;
            }
        });
    }
}

void show_all_takes(Session& session, bool shown) {
    session.edit_channel(shown ? tr("Show all takes") : tr("Hide all takes"),
                         [&](Channel& channel) {
                             for (auto& take : channel.takes) {
                                 take.edit().shown = shown;
                             }
                         });
}

void restore_take(Session& session, int index) {
    if (const Take* take = take_at(session, index)) {
        session.edit_channel(
            tr("Restore the take %1").arg(quoted(*take)),
            [stages = take->stages](Channel& channel) { channel.stages = stages; });
    }
}

void remove_take(Session& session, int index) {
    if (const Take* take = take_at(session, index)) {
        const std::string key = key_of(*take);
        session.edit_channel(tr("Remove the take %1").arg(quoted(*take)), [&](Channel& channel) {
            std::erase(channel.bench.compared, key);
            channel.takes.erase(channel.takes.begin() + index);
        });
    }
}

void choose_difference(Session& session, const std::optional<Difference>& difference) {
    session.edit_channel(difference ? tr("Show a difference") : tr("Show no difference"),
                         [&](Channel& channel) { channel.difference = difference; });
}

} // namespace syntonon
