// Sound out and in at once, for measuring.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/device/sound_device.h"

#include <atomic>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

// Of the first sound system that has both; else both are empty. The default ones first.
struct RecordingPorts {
    std::vector<SoundPort> outputs, inputs;
};
RecordingPorts recording_ports();

struct RecordingWish {
    std::string output, input; // names; empty: the default ones
    double sample_rate_hz = 48000;
    unsigned frames = 1024;              // of a block
    std::vector<unsigned> outputs = {1}; // channels that play, from 1; the others are silent
    std::vector<unsigned> inputs = {1};  // that are recorded, from 1, in the order wanted
};

// The rate at which both go: the one asked for where they can, else the next above it, else the
// highest. Refused where a device or a channel of it is not there.
Expected<double> recording_rate_hz(const RecordingWish& wish);

// For who looks on while it goes: what the inputs have had so far.
class RecordingMeter {
public:
    RecordingMeter() : peak_(std::make_shared<std::atomic<float>>(0.0F)) {}
    double peak() const { return peak_->load(std::memory_order_relaxed); } // of full scale
    void note(float peak) const;

private:
    std::shared_ptr<std::atomic<float>> peak_; // copies share it
};

struct DeviceRecording {
    double sample_rate_hz = 48000;
    std::vector<std::vector<double>> channels; // as the wish has them
    unsigned dropouts = 0;                     // blocks that the device says it lost
    std::string output, input;                 // names
};

// Waits until all of it is played, and recorded a second and a half longer: the way out and in
// takes its time. Recording begins with the device's first block, so that a delay found later is
// the device's own and the room's; only a reference tells them apart. Watched: how far it has come;
// stopped in between it gives nothing ("was stopped"). Refused where the wish cannot be had, the
// device goes meanwhile, or does not begin within some seconds. `played` is at recording_rate_hz().
Expected<DeviceRecording> play_and_record(std::span<const double> played, const RecordingWish& wish,
                                          const Watch& watch, const RecordingMeter& meter = {});

} // namespace syntonon
