// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/sound_taps.h"

#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/design/taps.h"
#include "core/exchange/sound_library.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <memory>

namespace syntonon {
namespace {

constexpr std::size_t most_sound_bytes = 256'000'000;

// The library's file is a text in memory: reading and writing then go the way of all files.
struct Memory {
    std::string bytes;
    std::size_t at = 0;
};

Memory& memory_of(void* user) {
    return *static_cast<Memory*>(user);
}

sf_count_t length_of(void* user) {
    return static_cast<sf_count_t>(memory_of(user).bytes.size());
}
sf_count_t place_in(void* user) {
    return static_cast<sf_count_t>(memory_of(user).at);
}
sf_count_t seek_in(sf_count_t offset, int whence, void* user) {
    Memory& memory = memory_of(user);
    const sf_count_t from = whence == SEEK_SET   ? 0
                            : whence == SEEK_CUR ? place_in(user)
                                                 : length_of(user);
    const sf_count_t to = std::max<sf_count_t>(0, from + offset);
    memory.at = static_cast<std::size_t>(to);
    return to;
}
sf_count_t read_from(void* to, sf_count_t count, void* user) {
    Memory& memory = memory_of(user);
    const std::size_t left = memory.bytes.size() - std::min(memory.at, memory.bytes.size());
    const std::size_t taken = std::min(left, static_cast<std::size_t>(count));
    std::memcpy(to, memory.bytes.data() + memory.at, taken);
    memory.at += taken;
    return static_cast<sf_count_t>(taken);
}
sf_count_t write_to(const void* from, sf_count_t count, void* user) {
    Memory& memory = memory_of(user);
    const auto taken = static_cast<std::size_t>(count);
    memory.bytes.resize(std::max(memory.bytes.size(), memory.at + taken));
    std::memcpy(memory.bytes.data() + memory.at, from, taken);
    memory.at += taken;
    return count;
}

SoundFile opened_sound(Memory& memory, int mode, SF_INFO& info) {
    SF_VIRTUAL_IO io{length_of, seek_in, read_from, write_to, place_in};
    return {sf_open_virtual(&io, mode, &info, &memory), sf_close};
}

Expected<std::vector<double>> channel_of(SNDFILE* file, const SF_INFO& info, int channel) {
    if (info.frames < 1 || info.frames > static_cast<sf_count_t>(most_taps)) {
        return refuse("", fmt::format("holds {} samples a channel", info.frames),
                      fmt::format("cut it to 1 to {}", most_taps));
    }
    if (channel < 0 || channel >= info.channels) {
        return refuse("",
                      fmt::format("has {} channel{}, so none of number {}", info.channels,
                                  info.channels == 1 ? "" : "s", channel + 1),
                      "choose one that is there");
    }
    const auto width = static_cast<std::size_t>(info.channels);
    std::vector<double> frames(static_cast<std::size_t>(info.frames) * width), taps;
    const sf_count_t read = sf_readf_double(file, frames.data(), info.frames);
    if (read != info.frames) {
        return refuse("",
                      fmt::format("ends after {} of the {} samples that its head speaks of", read,
                                  info.frames),
                      "fetch it again");
    }
    for (auto i = static_cast<std::size_t>(channel); i < frames.size(); i += width) {
        if (!std::isfinite(frames[i])) {
            return refuse(fmt::format("sample {}", taps.size()), "is not a finite number",
                          "mend the file");
        }
        taps.push_back(frames[i]);
    }
    return taps;
}

Expected<void> check_writable(std::span<const double> taps, double rate, SoundFormat format) {
    if (rate != std::floor(rate) || !(rate >= 1 && rate <= 655350)) {
        return refuse("sample_rate_hz",
                      fmt::format("{} Hz cannot stand in a sound file, which knows whole numbers "
                                  "up to 655350",
                                  rate),
                      "write them as text");
    }
    const auto beyond = std::ranges::find_if(taps, [](double t) { return std::abs(t) > 1; });
    if (format == SoundFormat::flac && beyond != taps.end()) {
        return refuse(fmt::format("taps[{}]", beyond - taps.begin()),
                      fmt::format("{} does not fit: FLAC holds −1 to 1", *beyond),
                      "take WAV, or turn the gain down");
    }
    return {};
}

} // namespace

bool is_sound_file(const std::filesystem::path& path) {
    const std::string ending = lower_case(path.extension().string());
    constexpr std::array known{".wav", ".flac", ".aiff", ".aif", ".ogg", ".oga", ".w64", ".caf"};
    return std::ranges::find(known, ending) != known.end();
}

Expected<SoundTaps> taps_from_sound_bytes(std::string bytes, int channel) {
    Memory memory{std::move(bytes)};
    SF_INFO info{};
    const SoundFile file = opened_sound(memory, SFM_READ, info);
    if (file == nullptr) {
        return refuse("", fmt::format("cannot be read as sound: {}", reason_of(nullptr)),
                      "give a WAV, FLAC or AIFF file");
    }
    return channel_of(file.get(), info, channel).map([&](std::vector<double> taps) {
        return SoundTaps{std::move(taps), static_cast<double>(info.samplerate), info.channels};
    });
}

Expected<SoundTaps> taps_from_sound(const std::filesystem::path& path, int channel) {
    auto bytes = read_file(path, most_sound_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto read = taps_from_sound_bytes(std::move(*bytes), channel);
    return read ? read : tl::unexpected(in_file(path.string(), read.error()));
}

Expected<std::string> sound_of_taps(std::span<const double> taps, double sample_rate_hz,
                                    SoundFormat format) {
    if (auto ok = check_writable(taps, sample_rate_hz, format); !ok) {
        return tl::unexpected(ok.error());
    }
    Memory memory;
    SF_INFO info{};
    info.samplerate = static_cast<int>(sample_rate_hz);
    info.channels = 1;
    info.format = format == SoundFormat::wav ? SF_FORMAT_WAV | SF_FORMAT_DOUBLE
                                             : SF_FORMAT_FLAC | SF_FORMAT_PCM_24;
    SoundFile file = opened_sound(memory, SFM_WRITE, info);
    const auto count = static_cast<sf_count_t>(taps.size());
    if (file == nullptr) {
        return refuse("", fmt::format("cannot be written: {}", reason_of(nullptr)),
                      "take another format");
    }
    sf_command(file.get(), SFC_SET_CLIPPING, nullptr, SF_TRUE); // 1 becomes the greatest word
    if (sf_writef_double(file.get(), taps.data(), count) != count) {
        return refuse("", fmt::format("cannot be written: {}", reason_of(file.get())),
                      "take another format");
    }
    file.reset(); // writes the head
    return std::move(memory.bytes);
}

} // namespace syntonon
