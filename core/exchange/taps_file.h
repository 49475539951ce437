// Taps out to a file of any of its formats and in from one.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/sound_taps.h"
#include "core/exchange/taps_text.h"

#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class TapsFormat { lines, indexed, c_array, words, wav, flac };

std::string_view extension_of(TapsFormat format); // ".txt", ".h", ".wav", ".flac"

struct TapsFileWriting {
    TapsFormat format = TapsFormat::lines;
    std::vector<std::string> head = {}; // of the text formats; empty: none
    TextWord words = {};
    double sample_rate_hz = 48000; // of the sound formats
};

struct WrittenTaps {
    double greatest_deviation = 0; // of a tap, between what was handed over and what is read back
    std::size_t bytes = 0;
};

// Written without losing any other file's bytes, read back and compared. Refuses what the format
// cannot hold; nothing is written then.
Expected<WrittenTaps> write_taps(const std::filesystem::path& path, std::span<const double> taps,
                                 const TapsFileWriting& writing);

struct TapsFileReading {
    std::optional<TextWord> words = {}; // of hexadecimal words that do not state theirs
    int channel = 0;                    // of sound
};

struct ReadTaps {
    std::vector<double> taps;
    std::optional<double> sample_rate_hz = {}; // that the file states
    int channels = 1;
};

// A sound file by its name, else a text. Refuses, saying the place in the file, what cannot be
// read.
Expected<ReadTaps> read_taps(const std::filesystem::path& path, const TapsFileReading& reading);

} // namespace syntonon
