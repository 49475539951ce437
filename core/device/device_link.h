// A device that is looked at for a while: its tree kept as the device is now, the levels it shows.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/device_tree.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon::oca {

struct LevelReading {
    std::string path, block; // of the sensor and of what holds it
    std::optional<float> db; // nothing: it could not be read
};

// What somebody else sets at the device, or this program over another connection, is told by the
// device and read anew. May be used from several threads.
class DeviceLink {
public:
    // `told` is called in a thread of the link whenever the tree has changed or the connection is
    // lost; not for levels, which change all the time. Refused as connecting and reading are.
    using Told = std::function<void()>;
    static Expected<std::unique_ptr<DeviceLink>>
    open(const Address& address, Told told, const Watch& watch = {}, const Timing& timing = {});
    ~DeviceLink();
    DeviceLink(const DeviceLink&) = delete;
    DeviceLink& operator=(const DeviceLink&) = delete;

    std::shared_ptr<const DeviceTree> tree() const;
    std::vector<LevelReading> levels() const;
    // All objects anew, beside the caller; `told` says when.
    void read_again();
    // Whether the device tells what changes; where it does not, read_again() is what there is.
    // False, too, until it has been asked.
    bool is_told_of_changes() const;
    std::optional<Problem> lost() const;
    Controller& controller();

private:
    struct Inside;
    explicit DeviceLink(std::unique_ptr<Inside> inside);
    std::unique_ptr<Inside> inside_;
};

} // namespace syntonon::oca
