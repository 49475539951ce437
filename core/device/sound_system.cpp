// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/sound_system.h"

#include <algorithm>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <rtaudio/RtAudio.h>

namespace syntonon {
namespace {

// JACK would start a server of its own, and say so, where none runs.
std::vector<RtAudio::Api> systems() {
    std::vector<RtAudio::Api> all;
    RtAudio::getCompiledApi(all);
    std::erase_if(all, [](RtAudio::Api api) {
        return api == RtAudio::RTAUDIO_DUMMY
               || (api == RtAudio::UNIX_JACK && std::getenv("JACK_DEFAULT_SERVER") == nullptr);
    });
    return all;
}

std::unique_ptr<RtAudio> first_system(const std::function<bool(RtAudio&)>& has_all) {
    for (const RtAudio::Api api : systems()) {
        auto audio = std::make_unique<RtAudio>(api);
        audio->showWarnings(false);
        if (has_all(*audio)) {
            return audio;
        }
    }
    return nullptr;
}

std::vector<FoundPort> ports_of(RtAudio& audio, unsigned RtAudio::DeviceInfo::*channels,
                                bool RtAudio::DeviceInfo::*is_default) {
    std::vector<FoundPort> found;
    for (unsigned id = 0; id < audio.getDeviceCount(); ++id) {
        try {
            const RtAudio::DeviceInfo info = audio.getDeviceInfo(id);
            if (info.probed && info.*channels > 0) {
                found.push_back({{info.name,
                                  {info.sampleRates.begin(), info.sampleRates.end()},
                                  info.*channels,
                                  info.*is_default},
                                 id});
            }
        } catch (const RtAudioError&) {
            continue; // taken by another program, or gone meanwhile
        }
    }
    std::ranges::stable_sort(found, std::greater(),
                             [](const FoundPort& one) { return one.port.is_default; });
    return found;
}

} // namespace

std::vector<FoundPort> outputs_of(RtAudio& audio) {
    return ports_of(audio, &RtAudio::DeviceInfo::outputChannels,
                    &RtAudio::DeviceInfo::isDefaultOutput);
}

std::vector<FoundPort> inputs_of(RtAudio& audio) {
    return ports_of(audio, &RtAudio::DeviceInfo::inputChannels,
                    &RtAudio::DeviceInfo::isDefaultInput);
}

std::vector<SoundPort> without_ids(const std::vector<FoundPort>& found) {
    std::vector<SoundPort> ports;
    std::ranges::transform(found, std::back_inserter(ports), &FoundPort::port);
    return ports;
}

std::unique_ptr<RtAudio> system_with_output() {
    return first_system([](RtAudio& audio) { return !outputs_of(audio).empty(); });
}

std::unique_ptr<RtAudio> system_with_both() {
    return first_system(
        [](RtAudio& audio) { return !outputs_of(audio).empty() && !inputs_of(audio).empty(); });
}

Expected<FoundPort> port_named(const std::vector<FoundPort>& found, const std::string& name) {
    const auto chosen =
        name.empty()
            ? found.begin()
            : std::ranges::find(found, name, [](const FoundPort& one) { return one.port.name; });
    if (chosen == found.end()) {
        return refuse("sound", fmt::format("“{}” is not there", name), "choose another device");
    }
    return *chosen;
}

Expected<double> device_rate_for(const SoundWish& wish, const SoundPort& output) {
    std::vector<double> rates = output.rates_hz;
    std::ranges::sort(rates);
    const auto can = [&](double hz) {
        return rates.empty() || std::ranges::find(rates, hz) != rates.end();
    };
    if (wish.device_rate_hz > 0) {
        return can(wish.device_rate_hz) ? Expected<double>(wish.device_rate_hz)
                                        : refuse("sound",
                                                 fmt::format("“{}” does not play at {} Hz",
                                                             output.name, wish.device_rate_hz),
                                                 "choose another rate");
    }
    if (can(wish.sample_rate_hz)) {
        return wish.sample_rate_hz;
    }
    const auto above = std::ranges::lower_bound(rates, wish.sample_rate_hz);
    return above != rates.end() ? *above : rates.back();
}

void ask_for_latency(double ms) {
    constexpr double least_ms = 4;
    ::setenv("PULSE_LATENCY_MSEC", fmt::format("{:.0f}", std::max(ms, least_ms)).c_str(), 1);
}

std::vector<SoundPort> sound_outputs() {
    const auto audio = system_with_output();
    return audio != nullptr ? without_ids(outputs_of(*audio)) : std::vector<SoundPort>();
}

} // namespace syntonon
