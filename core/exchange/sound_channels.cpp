// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/sound_channels.h"

#include "core/exchange/sound_stream.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

std::string length_text(double seconds) {
    constexpr double minute = 60, hour = 3600;
    return seconds < 2 * minute ? fmt::format("{:.1f} s", seconds)
           : seconds < 2 * hour ? fmt::format("{:.0f} minutes", seconds / minute)
                                : fmt::format("{:.0f} hours", seconds / hour);
}

Expected<void> check_length(const SoundShape& shape, std::int64_t most_frames) {
    if (shape.frames < 1) {
        return refuse("", "holds no samples", "export or record it again");
    }
    constexpr int most_channels = 64;
    if (shape.frames > most_frames || shape.channels > most_channels) {
        return refuse(
            "",
            fmt::format("holds {} of {} channel{}",
                        length_text(static_cast<double>(shape.frames) / shape.sample_rate_hz),
                        shape.channels, shape.channels == 1 ? "" : "s"),
            fmt::format("cut out at most {} of at most {} channels",
                        length_text(static_cast<double>(most_frames) / shape.sample_rate_hz),
                        most_channels));
    }
    return {};
}

Expected<void> read_all(SoundReader& reader, std::vector<std::vector<double>>& channels) {
    constexpr std::size_t piece_frames = 16'384;
    std::vector<double> piece(piece_frames * channels.size());
    while (true) {
        const auto read = reader.read(piece);
        if (!read) {
            return tl::unexpected(read.error());
        }
        if (*read == 0) {
            return {};
        }
        for (std::size_t n = 0; n < *read * channels.size(); ++n) {
            channels[n % channels.size()].push_back(piece[n]);
        }
    }
}

} // namespace

Expected<SoundChannels> sound_channels(const std::filesystem::path& path,
                                       std::int64_t most_frames) {
    const auto reader = SoundReader::open(path);
    if (!reader) {
        return tl::unexpected(reader.error());
    }
    const SoundShape shape = (*reader)->shape();
    if (auto ok = check_length(shape, most_frames); !ok) {
        return tl::unexpected(in_file(path.string(), ok.error()));
    }
    SoundChannels made{shape.sample_rate_hz, {}, {}};
    made.channels.resize(static_cast<std::size_t>(shape.channels));
    for (auto& channel : made.channels) {
        channel.reserve(static_cast<std::size_t>(shape.frames));
    }
    if (const auto words = cut_short(**reader)) {
        made.notes.push_back(fmt::format("The file is cut short: {}.", *words));
    }
    return read_all(**reader, made.channels).map([&] { return std::move(made); });
}

Expected<void> write_sound_channels(const std::filesystem::path& path, const SoundChannels& sound) {
    const std::size_t count = sound.channels.size();
    auto writer = SoundWriter::create(path, {sound.sample_rate_hz, static_cast<int>(count), 0},
                                      SoundWords::float_32);
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    std::vector<double> frames(count * sound.channels.at(0).size());
    for (std::size_t n = 0; n < frames.size(); ++n) {
        frames[n] = sound.channels[n % count].at(n / count);
    }
    return (*writer)->write(frames).and_then([&] { return (*writer)->finish(); });
}

} // namespace syntonon
