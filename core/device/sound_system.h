// What the sound systems of RtAudio offer: for what opens streams.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/sound_device.h"

#include <memory>
#include <string>
#include <vector>

class RtAudio;

namespace syntonon {

inline constexpr const char* sound_way_out =
    "plug one in, or start PulseAudio, PipeWire or JACK"; // where there is none

struct FoundPort {
    SoundPort port;
    unsigned id = 0; // RtAudio's
};

// Those that can be used now, the default one first.
std::vector<FoundPort> outputs_of(RtAudio& audio);
std::vector<FoundPort> inputs_of(RtAudio& audio);

std::vector<SoundPort> without_ids(const std::vector<FoundPort>& found);

// The first system that has what is wanted, opened quietly; null where none has.
std::unique_ptr<RtAudio> system_with_output();
std::unique_ptr<RtAudio> system_with_both();

// The one of that name, empty: the first. Refused where it is not there; `found` is not empty.
Expected<FoundPort> port_named(const std::vector<FoundPort>& found, const std::string& name);

// As the wish says. Refused where a rate is asked for and cannot be had.
Expected<double> device_rate_for(const SoundWish& wish, const SoundPort& output);

// PulseAudio and PipeWire would otherwise hold two seconds ready.
void ask_for_latency(double ms);

} // namespace syntonon
