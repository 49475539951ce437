// Sound out: JACK, PulseAudio, PipeWire or ALSA, whichever is there.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <functional>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

// A device's output or input.
struct SoundPort {
    std::string name;
    std::vector<double> rates_hz; // that it says it can
    unsigned channels = 2;
    bool is_default = false;
};

// Those that can play, the default one first. Empty where there is no sound system: everything else
// goes on without.
std::vector<SoundPort> sound_outputs();

struct SoundWish {
    std::string device;            // its name; empty: the default one
    double sample_rate_hz = 48000; // of what is filled in
    unsigned frames = 256;         // of a block
    // At which the device plays; 0: the sample rate where it can, else the next above, else its
    // highest. Another one than the sample rate is converted to.
    double device_rate_hz = 0;
};

// One that plays. Its samples come from `fill`, which is called in a thread of the device's with a
// mono block, plays the same on both sides, and may neither allocate nor wait.
class SoundStream {
public:
    using Fill = std::function<void(std::span<double>)>;

    // Refused where there is no device, the device is not there, or does not take the rate.
    static Expected<std::unique_ptr<SoundStream>> open(const SoundWish& wish, Fill fill);
    virtual ~SoundStream() = default;

    virtual unsigned frames() const = 0; // of a block, as the device has it
    virtual double device_rate_hz() const = 0;
    virtual const std::string& device() const = 0;
    // Blocks that came too late, and whether the device has gone.
    virtual unsigned dropouts() const = 0;
    virtual bool is_lost() const = 0;
    // The share of the time between blocks that filling takes, 0 to 1, of the last second or so.
    virtual double load() const = 0;
};

} // namespace syntonon
