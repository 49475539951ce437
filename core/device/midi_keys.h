// Keys played over MIDI, where ALSA or JACK offers it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/engine/live_keys.h"

#include <memory>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

// What a message does to the keys, of any channel: notes on and off, the damper pedal (keys let go
// while it is down sound on), all notes off. Others, and such as are cut off, do nothing. (The
// Complete MIDI 1.0 Detailed Specification, 1996.)
class MidiMessages {
public:
    explicit MidiMessages(std::shared_ptr<LiveKeys> keys) : keys_(std::move(keys)) {}
    void take(std::span<const unsigned char> message);

private:
    void let_go(std::size_t key);

    std::shared_ptr<LiveKeys> keys_;
    bool is_pedal_down_ = false;
    std::array<bool, LiveKeys::count> held_by_pedal_{};
};

// Names of what can be listened to; empty where there is no MIDI.
std::vector<std::string> midi_inputs();

// Listens for as long as it lives, in a thread of its own.
class MidiKeys {
public:
    // Refused where there is no such input. An empty name: a port of its own, “Syntonon”, that
    // others are connected to.
    static Expected<std::unique_ptr<MidiKeys>> open(const std::string& input,
                                                    std::shared_ptr<LiveKeys> keys);
    ~MidiKeys(); // lets all keys go

private:
    struct Port;
    explicit MidiKeys(std::unique_ptr<Port> port);
    std::unique_ptr<Port> port_;
};

} // namespace syntonon
