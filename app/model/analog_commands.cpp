// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/analog_commands.h"

#include "app/widgets/words.h"
#include "core/study/analog_side.h"

#include <utility>

namespace syntonon {
namespace {

tl::unexpected<Problem> no_channel() {
    return refuse("", "no channel is selected", "select an analog channel");
}

} // namespace

void add_analog_channel(Session& session) {
    const std::string goal = session.channel() != nullptr ? session.channel()->goal : std::string();
    session.edit(tr("Add an analog channel"), [&](Study& study) {
        Channel channel;
        channel.goal = goal;
        channel.name = tr("Analog %1").arg(study.channels.size() + 1).toStdString();
        channel.id = fresh_id(study, channel.name);
        channel.domain = Domain::analog;
        study.channels.emplace_back(std::move(channel));
    });
    session.select_channel(static_cast<int>(session.study().channels.size()) - 1);
}

Expected<void> map_selected_channel(Session& session, PlaneMapping mapping) {
    const Channel* channel = session.channel();
    if (channel == nullptr) {
        return no_channel();
    }
    auto mapped = mapped_channel(session.study(), *channel, mapping, session.briefs());
    if (!mapped) {
        return tl::unexpected(mapped.error());
    }
    const int next = session.selection().channel + 1;
    session.edit(tr("Map %1").arg(QString::fromStdString(channel->name)), [&](Study& study) {
        study.channels.insert(study.channels.begin() + next,
                              SharedValue<Channel>(std::move(*mapped)));
    });
    session.select_channel(next);
    return {};
}

Expected<std::string> analog_text_of_selected(Session& session, AnalogFormat format) {
    const Channel* channel = session.channel();
    if (channel == nullptr) {
        return no_channel();
    }
    return analog_filter_of(session.study(), *channel, session.briefs())
        .map([&](const AnalogFilterText& filter) { return analog_text(filter, format); });
}

} // namespace syntonon
