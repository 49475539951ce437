// What a device consists of: its name and its objects with what they are set to.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/device/oca/controller.h"
#include "core/device/oca/settings.h"

#include <chrono>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon::oca {

struct DeviceObject {
    std::uint32_t number = 0;
    ClassId class_id;
    std::string role, label;  // the label may be empty
    std::string path;         // roles from the root block on: "Output 1/Filter 3", each once
    std::string block;        // path of the block that holds it; empty: the root block
    std::optional<Kind> kind; // nothing: of a class that this program does not know
    std::optional<ObjectState> state; // nothing: has none, or it could not be read
    std::optional<Problem> unreadable;
    bool operator==(const DeviceObject&) const = default;
};

struct DeviceTree {
    std::string name, maker, model, version, serial_number; // as far as the device says them
    // Blocks before what they hold.
    std::vector<DeviceObject> objects;

    const DeviceObject* at_path(std::string_view path) const;
    bool operator==(const DeviceTree&) const = default;
};

// More is not read, so that no device can lead on without end. Roles and labels are cut to 64
// bytes.
struct ReadingLimits {
    std::size_t objects = 10'000, depth = 16; // of blocks in blocks
    std::size_t bytes = 16'000'000;           // of settings
    std::chrono::milliseconds time{4000};
};

// Refused: the connection is lost or there is no answer, a block cannot be read, more than the
// limits. An object that refuses to be read is there without its state.
Expected<DeviceTree> read_tree(Controller& controller, const Watch& watch = {},
                               const ReadingLimits& limits = {});

// What objects are set to now, in their order. Refused as a call is, or where the answer is not its
// class's.
struct ObjectToRead {
    std::uint32_t number = 0;
    Kind kind = Kind::gain;
};
// Those beyond the limits of bytes and time are refused.
std::vector<Expected<ObjectState>> read_states(Controller& controller,
                                               const std::vector<ObjectToRead>& objects,
                                               const ReadingLimits& limits = {});
Expected<ObjectState> read_state(Controller& controller, std::uint32_t object, Kind kind);

Call call_that_sets(std::uint32_t object, const Setting& setting);
Call call_that_enables(std::uint32_t object, bool is_enabled);
Expected<void> write_setting(Controller& controller, std::uint32_t object, const Setting& setting);

} // namespace syntonon::oca
