// A simulated processor that runs a sound, as it is started by hand or from the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/device/device_sound.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace syntonon::oca {

class RunningDevice {
public:
    // At that port of this machine (see DeviceServer::start). Ten seconds of pink noise where no
    // signal is given.
    static Expected<std::unique_ptr<RunningDevice>> start(const DeviceShape& shape,
                                                          std::uint16_t port,
                                                          bool on_all_interfaces = false,
                                                          std::vector<double> signal = {});

    DeviceServer& server() { return *server_; }
    const DeviceShape& shape() const { return shape_; }

private:
    RunningDevice(DeviceShape shape, std::unique_ptr<DeviceServer> server,
                  std::vector<double> signal);

    DeviceShape shape_;
    std::unique_ptr<DeviceServer> server_;
    DeviceSound sound_; // ends before the server
};

} // namespace syntonon::oca
