// Taps as sound files: an impulse response in, one out.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

struct SoundTaps {
    std::vector<double> taps; // of the channel that was asked for
    double sample_rate_hz = 0;
    int channels = 1;
};

// By the end of its name: .wav, .flac, .aiff, .aif, .w64, .caf.
bool is_sound_file(const std::filesystem::path& path);

// The samples of one channel, counted from 0. Refuses what is no sound file, a channel that is not
// there, none or more than most_taps samples, and one that is no finite number; the place starts
// with the path.
Expected<SoundTaps> taps_from_sound(const std::filesystem::path& path, int channel = 0);
Expected<SoundTaps> taps_from_sound_bytes(std::string bytes, int channel = 0);

// wav: 64-bit floats, which lose nothing. flac: 24 bits, so within ±1 and rounded to 2^-24 at most.
enum class SoundFormat { wav, flac };

// The file's bytes. Refuses a rate that is not whole, and taps that the format cannot hold.
Expected<std::string> sound_of_taps(std::span<const double> taps, double sample_rate_hz,
                                    SoundFormat format);

} // namespace syntonon
