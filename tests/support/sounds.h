// Sound files in one go.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/sound_stream.h"

#include <filesystem>
#include <gtest/gtest.h>
#include <vector>

namespace syntonon::test {

inline void write_sound(const std::filesystem::path& path, const std::vector<double>& samples,
                        const SoundShape& shape = {}, SoundWords words = SoundWords::float_32,
                        Dithering dithering = Dithering::none) {
    auto writer = *SoundWriter::create(path, shape, words, dithering);
    EXPECT_TRUE(writer->write(samples));
    EXPECT_TRUE(writer->finish());
}

inline std::vector<double> read_sound(const std::filesystem::path& path) {
    auto reader = SoundReader::open(path);
    EXPECT_TRUE(reader);
    const SoundShape shape = (*reader)->shape();
    std::vector<double> samples(static_cast<std::size_t>(shape.frames)
                                * static_cast<std::size_t>(shape.channels));
    EXPECT_EQ(*(*reader)->read(samples), static_cast<std::size_t>(shape.frames));
    return samples;
}

} // namespace syntonon::test
