// A simulated processor on the network.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "standin/device/device_objects.h"
#include "standin/device/faults.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

namespace syntonon::oca {

// Serves several controllers at a time in a thread of its own, until it ends. Holds no more of any
// of them than one message and 4 MB of answers that are not fetched.
class DeviceServer {
public:
    // At that port of this machine's loopback interface, or of all interfaces; 0: any free port.
    // Refused where the port is taken.
    static Expected<std::unique_ptr<DeviceServer>>
    start(const DeviceShape& shape, std::uint16_t port = 0, bool on_all_interfaces = false);
    ~DeviceServer();
    DeviceServer(const DeviceServer&) = delete;
    DeviceServer& operator=(const DeviceServer&) = delete;

    std::uint16_t port() const;
    // From now on; calls are counted from here.
    void set_faults(std::vector<Fault> faults);
    // Looks at the objects, or changes them, between two calls.
    void with_objects(const std::function<void(DeviceObjects&)>& look);
    // As somebody at the device does: subscribers are told what has changed.
    void change(const std::function<void(DeviceObjects&, std::vector<PropertyChange>&)>& change);
    std::size_t connections();

private:
    struct Inside;
    explicit DeviceServer(std::shared_ptr<Inside> inside);
    std::shared_ptr<Inside> inside_;
};

} // namespace syntonon::oca
