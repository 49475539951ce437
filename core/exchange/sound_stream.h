// Sound files, read and written piece by piece: a file of hours takes no more memory than one of
// seconds.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <span>
#include <string>

namespace syntonon {

struct SoundShape {
    double sample_rate_hz = 48000;
    int channels = 1;
    std::int64_t frames = 0; // a frame has a sample of each channel
};

// WAV, FLAC, AIFF, OGG and what else the sound library knows.
class SoundReader {
public:
    // Refuses what is no sound file.
    static Expected<std::unique_ptr<SoundReader>> open(const std::filesystem::path& path);
    virtual ~SoundReader() = default;

    virtual const SoundShape& shape() const = 0;
    // What the head of a file says whose end is missing; of a whole one as many as there are.
    virtual std::int64_t promised_frames() const { return shape().frames; }
    // Goes on so many frames later; beyond the end: to the end.
    virtual Expected<void> skip(std::int64_t frames) = 0;
    // Whole frames, channels side by side, as many as fit; how many there were, 0 at the end.
    // Refuses a sample that is no finite number, and a file that ends before its head says.
    virtual Expected<std::size_t> read(std::span<double> samples) = 0;
};

// "its head speaks of 48000 samples, and 15000 are there"; nothing of a whole file.
std::optional<std::string> cut_short(const SoundReader& sound);

enum class SoundWords { int_16, int_24, float_32 };
enum class Dithering { none, triangular }; // of integers; floats are never dithered

class SoundWriter {
public:
    // The kind by the end of the name: .wav, .flac, .aiff, .w64. Refuses others, a rate that is not
    // whole, floats in FLAC, and a folder that cannot be written to.
    static Expected<std::unique_ptr<SoundWriter>> create(const std::filesystem::path& path,
                                                         const SoundShape& shape, SoundWords words,
                                                         Dithering dithering = Dithering::none);
    virtual ~SoundWriter() = default; // without finish(): nothing is left of it

    // Whole frames. Refused when the disk is full.
    virtual Expected<void> write(std::span<const double> samples) = 0;
    // The file stands under its name from then on, in place of one that was there.
    virtual Expected<void> finish() = 0;
    // Samples beyond full scale, which integers cannot hold: they were cut to it.
    virtual std::int64_t clipped() const = 0;
};

} // namespace syntonon
