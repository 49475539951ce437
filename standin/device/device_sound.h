// What a simulated processor does with a signal: every output's chain in its words, and its level.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/device/device_server.h"

#include <memory>
#include <vector>

namespace syntonon::oca {

// The stages that the objects of an output make, in the order of the signal, as a filter.
// Parametric and classical objects are designed by this program's equations. Refused where one
// cannot be.
Expected<Filter> filter_of_output(const DeviceObjects& objects, std::size_t output);

// Runs a signal, over and over, through all outputs in a thread of its own, in real time, in the
// processor's words where these hold the chain, and lets the level sensors show the output's RMS
// over 100 ms, in dBFS.
class DeviceSound {
public:
    // The signal at the device's rate; not empty. The server must outlive it.
    DeviceSound(DeviceServer& server, std::vector<double> signal);
    ~DeviceSound();
    DeviceSound(const DeviceSound&) = delete;
    DeviceSound& operator=(const DeviceSound&) = delete;

private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
};

} // namespace syntonon::oca
