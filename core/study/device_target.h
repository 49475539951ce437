// A device that a delivery goes to, and which of its objects become which stages.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"

#include <string>
#include <vector>

namespace syntonon {

// Objects by their paths in the device: roles from the root block on, "Output 1/Filter 3".
struct ObjectsOfStage {
    std::string stage; // id, of a stage that counts
    std::vector<std::string> objects;
    UnknownKeys unknown = {};

    bool operator==(const ObjectsOfStage&) const = default;
};

struct DeviceChannel {
    std::string channel; // id
    std::string block;   // path of the block that is its output; empty: none chosen
    std::vector<ObjectsOfStage> stages;
    UnknownKeys unknown = {};

    bool operator==(const DeviceChannel&) const = default;
};

struct DeviceTarget {
    std::string address; // "host:port"; empty: the delivery goes to no device
    bool mutes = true;   // outputs while they are set; else object by object, by ramps
    int ramp_ms = 200;   // for each object that is not muted
    std::vector<DeviceChannel> channels = {};
    UnknownKeys unknown = {};

    bool operator==(const DeviceTarget&) const = default;
};

} // namespace syntonon
