// All channels of a short sound file at once.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

namespace syntonon {

struct SoundChannels {
    double sample_rate_hz = 48000;
    std::vector<std::vector<double>> channels;
    std::vector<std::string> notes; // a sentence each: that its end is missing
};

// Refuses, its place starting with the path, what is no sound file, holds no samples, more than
// `most_frames` a channel (before reading them), or a sample that is no finite number.
Expected<SoundChannels> sound_channels(const std::filesystem::path& path, std::int64_t most_frames);

// As floats, which neither clip nor are dithered; the notes are left out. Channels of one length.
// Refused as SoundWriter is.
Expected<void> write_sound_channels(const std::filesystem::path& path, const SoundChannels& sound);

} // namespace syntonon
