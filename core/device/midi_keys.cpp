// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/midi_keys.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <optional>
#include <rtmidi/RtMidi.h>
#include <string>
#include <unistd.h>
#include <utility>

namespace syntonon {

void MidiMessages::let_go(std::size_t key) {
    if (is_pedal_down_) {
        held_by_pedal_[key] = true;
    } else {
        keys_->release(key);
    }
}

void MidiMessages::take(std::span<const unsigned char> message) {
    constexpr unsigned char note_off = 0x80, note_on = 0x90, control = 0xB0, kind_bits = 0xF0;
    constexpr unsigned char damper = 64, all_sound_off = 120, all_notes_off = 123, half = 64;
    constexpr double most = 127;
    if (message.size() < 3 || message[1] > most || message[2] > most) {
        return;
    }
    const unsigned char kind = message[0] & kind_bits, first = message[1], second = message[2];
    if (kind == note_on && second > 0) {
        held_by_pedal_[first] = false;
        keys_->press(first, second / most);
    } else if (kind == note_on || kind == note_off) {
        let_go(first);
    } else if (kind == control && first == damper) {
        is_pedal_down_ = second >= half;
        for (std::size_t key = 0; key < held_by_pedal_.size(); ++key) {
            if (!is_pedal_down_ && std::exchange(held_by_pedal_[key], false)) {
                keys_->release(key);
            }
        }
    } else if (kind == control && (first == all_sound_off || first == all_notes_off)) {
        held_by_pedal_.fill(false);
        keys_->release_all();
    }
}

namespace {

// Where JACK's server of either generation listens.
bool is_jack_running() {
    const char* named = std::getenv("JACK_DEFAULT_SERVER");
    const std::string server = named != nullptr ? named : "default";
    const std::string user = std::to_string(::getuid());
    std::error_code error;
    return std::filesystem::exists("/dev/shm/jack_" + server + "_" + user + "_0", error)
           || std::filesystem::exists("/dev/shm/jack-" + user + "/" + server + "/jack_0", error);
}

// Both complain on the terminal where they are not there, so they are not asked then; nothing where
// neither is.
std::optional<RtMidi::Api> midi_here() {
    std::error_code error;
    if (std::filesystem::exists("/dev/snd/seq", error)) {
        return RtMidi::UNSPECIFIED; // the first that works
    }
    std::vector<RtMidi::Api> known;
    RtMidi::getCompiledApi(known);
    const bool has_jack = std::ranges::find(known, RtMidi::UNIX_JACK) != known.end();
    return has_jack && is_jack_running() ? std::optional(RtMidi::UNIX_JACK) : std::nullopt;
}

} // namespace

std::vector<std::string> midi_inputs() {
    std::vector<std::string> names;
    const auto api = midi_here();
    if (!api) {
        return names;
    }
    try {
        RtMidiIn listing(*api);
        for (unsigned port = 0; port < listing.getPortCount(); ++port) {
            names.push_back(listing.getPortName(port));
        }
    } catch (const RtMidiError&) {
        names.clear(); // no MIDI here
    }
    return names;
}

struct MidiKeys::Port {
    explicit Port(std::shared_ptr<LiveKeys> to) : keys(std::move(to)), messages(keys) {}
    ~Port() {
        in.reset(); // before the keys that it presses
        keys->release_all();
    }

    std::shared_ptr<LiveKeys> keys;
    MidiMessages messages;
    std::unique_ptr<RtMidiIn> in;
};

MidiKeys::MidiKeys(std::unique_ptr<Port> port) : port_(std::move(port)) {}
MidiKeys::~MidiKeys() = default;

Expected<std::unique_ptr<MidiKeys>> MidiKeys::open(const std::string& input,
                                                   std::shared_ptr<LiveKeys> keys) {
    auto port = std::make_unique<Port>(std::move(keys));
    const auto take = [](double, std::vector<unsigned char>* message, void* self) {
        static_cast<Port*>(self)->messages.take(*message);
    };
    const auto api = midi_here();
    if (!api) {
        return refuse("MIDI", "neither ALSA nor JACK offers it here",
                      "load the kernel's module snd-seq, or start JACK");
    }
    try {
        port->in = std::make_unique<RtMidiIn>(*api, "Syntonon");
        port->in->setCallback(take, port.get());
        if (input.empty()) {
            port->in->openVirtualPort("keys");
            return std::unique_ptr<MidiKeys>(new MidiKeys(std::move(port)));
        }
        for (unsigned i = 0; i < port->in->getPortCount(); ++i) {
            if (port->in->getPortName(i) == input) {
                port->in->openPort(i, "keys");
                return std::unique_ptr<MidiKeys>(new MidiKeys(std::move(port)));
            }
        }
    } catch (const RtMidiError& error) {
        return refuse(input, error.getMessage(), "see that ALSA or JACK offers MIDI here");
    }
    return refuse(input, "is not there", "plug it in, or choose another one");
}

} // namespace syntonon
