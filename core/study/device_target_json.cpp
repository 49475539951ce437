// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/device_target_json.h"

#include <string_view>
#include <utility>

namespace syntonon {
namespace {

constexpr int most_ramp_ms = 10'000;

DeviceChannel read_channel(ObjectReader object) {
    DeviceChannel channel;
    channel.channel = object.text("channel");
    channel.block = object.text_or("block", "");
    object.each("stages", [&](ObjectReader stage) {
        ObjectsOfStage read;
        read.stage = stage.text("stage");
        read.objects = stage.texts("objects");
        read.unknown = stage.unknown();
        channel.stages.push_back(std::move(read));
    });
    channel.unknown = object.unknown();
    return channel;
}

Json texts_json(const std::vector<std::string>& texts) {
    return list_json(texts, [](const std::string& text) { return std::string_view(text); });
}

Json channel_json(const DeviceChannel& channel) {
    Json object;
    object.set("channel", channel.channel);
    if (!channel.block.empty()) {
        object.set("block", channel.block);
    }
    object.set("stages", list_json(channel.stages, [](const ObjectsOfStage& stage) {
                   Json each;
                   each.set("stage", stage.stage).set("objects", texts_json(stage.objects));
                   return each.set_unknown(stage.unknown);
               }));
    return object.set_unknown(channel.unknown);
}

} // namespace

DeviceTarget read_device_target(ObjectReader object) {
    DeviceTarget target;
    target.address = object.text("address");
    target.mutes = object.boolean_or("mute", target.mutes);
    target.ramp_ms = object.integer_or("ramp_ms", target.ramp_ms);
    if (target.ramp_ms < 0 || target.ramp_ms > most_ramp_ms) {
        object.fail("ramp_ms", "is not within 0 to 10000 ms", "leave it out for 200 ms");
    }
    object.each("channels", [&](ObjectReader channel) {
        target.channels.push_back(read_channel(std::move(channel)));
    });
    target.unknown = object.unknown();
    return target;
}

Json device_target_json(const DeviceTarget& target) {
    const DeviceTarget usual;
    Json object;
    object.set("address", target.address);
    if (target.mutes != usual.mutes) {
        object.set("mute", target.mutes);
    }
    if (target.ramp_ms != usual.ramp_ms) {
        object.set("ramp_ms", target.ramp_ms);
    }
    object.set("channels", list_json(target.channels, channel_json));
    return object.set_unknown(target.unknown);
}

} // namespace syntonon
