// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/running_device.h"

#include "core/signal/make_signal.h"

#include <cstddef>
#include <utility>

namespace syntonon::oca {
namespace {

Expected<std::vector<double>> pink_noise(double sample_rate_hz) {
    const auto ten_seconds = static_cast<std::size_t>(10 * sample_rate_hz);
    return make_signal(PinkNoiseRecipe(), SignalExtent{sample_rate_hz, ten_seconds});
}

} // namespace

RunningDevice::RunningDevice(DeviceShape shape, std::unique_ptr<DeviceServer> server,
                             std::vector<double> signal)
    : shape_(std::move(shape)), server_(std::move(server)), sound_(*server_, std::move(signal)) {}

Expected<std::unique_ptr<RunningDevice>> RunningDevice::start(const DeviceShape& shape,
                                                              std::uint16_t port,
                                                              bool on_all_interfaces,
                                                              std::vector<double> signal) {
    if (signal.empty()) {
        auto made = pink_noise(shape.sample_rate_hz);
        if (!made) {
            return tl::unexpected(made.error());
        }
        signal = std::move(*made);
    }
    return DeviceServer::start(shape, port, on_all_interfaces)
        .map([&](std::unique_ptr<DeviceServer> server) {
            return std::unique_ptr<RunningDevice>(
                new RunningDevice(shape, std::move(server), std::move(signal)));
        });
}

} // namespace syntonon::oca
