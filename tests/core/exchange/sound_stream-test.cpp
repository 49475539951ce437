// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/sound_stream.h"

#include "tests/support/noise.h"
#include "tests/support/scratch.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <string>

namespace syntonon {
namespace {

class SoundStream : public testing::Test {
protected:
    std::filesystem::path written(const std::string& name, const std::vector<double>& samples,
                                  int channels, SoundWords words) {
        auto writer = SoundWriter::create(scratch.file(name), {44100, channels, 0}, words);
        EXPECT_TRUE(writer) << (writer ? "" : to_text(writer.error()));
        for (std::size_t at = 0; at < samples.size(); at += 60) {
            const auto piece =
                std::span(samples).subspan(at, std::min<std::size_t>(60, samples.size() - at));
            EXPECT_TRUE((*writer)->write(piece));
        }
        EXPECT_TRUE((*writer)->finish());
        clipped = (*writer)->clipped();
        return scratch.file(name);
    }
    Expected<std::vector<double>> all_of(const std::filesystem::path& path) {
        auto reader = SoundReader::open(path);
        if (!reader) {
            return tl::unexpected(reader.error());
        }
        shape = (*reader)->shape();
        std::vector<double> all, piece(70 * static_cast<std::size_t>(shape.channels));
        for (;;) {
            const auto count = (*reader)->read(piece);
            if (!count) {
                return tl::unexpected(count.error());
            }
            if (*count == 0) {
                return all;
            }
            all.insert(all.end(), piece.begin(),
                       piece.begin()
                           + static_cast<std::ptrdiff_t>(
                               *count * static_cast<std::size_t>(shape.channels)));
        }
    }
    test::Scratch scratch;
    SoundShape shape;
    std::int64_t clipped = 0;
};

TEST_F(SoundStream, GoesThereAndBackAsFineAsItsWords) {
    const auto samples = noise(600, 1);
    for (const auto& [name, words, half_step] :
         {std::tuple{"a.wav", SoundWords::float_32, std::ldexp(1.0, -24)},
          {"b.wav", SoundWords::int_24, std::ldexp(1.0, -24)},
          {"c.flac", SoundWords::int_24, std::ldexp(1.0, -24)},
          {"d.flac", SoundWords::int_16, std::ldexp(1.0, -16)},
          {"e.aiff", SoundWords::int_16, std::ldexp(1.0, -16)},
          {"f.w64", SoundWords::float_32, std::ldexp(1.0, -24)}}) {
        for (const int channels : {1, 2, 6}) {
            const auto back = all_of(written(name, samples, channels, words));
            ASSERT_TRUE(back) << to_text(back.error());
            EXPECT_EQ(shape.channels, channels);
            EXPECT_EQ(shape.sample_rate_hz, 44100);
            EXPECT_EQ(shape.frames, 600 / channels);
            ASSERT_EQ(back->size(), samples.size());
            for (std::size_t i = 0; i < samples.size(); ++i) {
                ASSERT_NEAR((*back)[i], samples[i], 1.0001 * half_step) << name << " " << i;
            }
        }
    }
}

TEST_F(SoundStream, WhatIntegersCannotHoldIsCutAndCounted) {
    const std::vector<double> loud = {0.5, 1.5, -2, 1, -1};
    const auto back = all_of(written("a.wav", loud, 1, SoundWords::int_24));
    ASSERT_TRUE(back);
    EXPECT_NEAR((*back)[1], 1, 1e-6);
    EXPECT_NEAR((*back)[2], -1, 1e-6);
    EXPECT_EQ(clipped, 2);
    EXPECT_EQ((*all_of(written("b.wav", loud, 1, SoundWords::float_32)))[2], -2);
    EXPECT_EQ(clipped, 0);
}

TEST_F(SoundStream, NothingIsLeftOfAFileThatWasNotFinished) {
    {
        auto writer = *SoundWriter::create(scratch.file("a.wav"), {}, SoundWords::int_16);
        EXPECT_TRUE(writer->write(noise(100, 1)));
    }
    EXPECT_TRUE(std::filesystem::is_empty(scratch.folder()));
}

TEST_F(SoundStream, BadFilesAreNamedWithTheirPlace) {
    EXPECT_FALSE(all_of(scratch.file("none.wav")));
    EXPECT_FALSE(all_of(scratch.write("text.wav", "no sound at all")));
    auto samples = noise(400, 1);
    samples[211] = std::numeric_limits<double>::quiet_NaN();
    const auto odd = all_of(written("nan.wav", samples, 2, SoundWords::float_32));
    ASSERT_FALSE(odd);
    EXPECT_NE(odd.error().place.find("channel 2, sample 105"), std::string::npos)
        << odd.error().place;
    std::string bytes =
        test::bytes_of(written("whole.flac", noise(9000, 1), 1, SoundWords::int_24));
    const auto cut = all_of(scratch.write("cut.flac", bytes.substr(0, bytes.size() / 2)));
    ASSERT_FALSE(cut);
    EXPECT_NE(cut.error().reason.find("ends after"), std::string::npos) << cut.error().reason;
}

// The library itself reads on as if nothing were missing.
TEST_F(SoundStream, AFileWhoseEndIsMissingSaysSo) {
    for (const char* name : {"cut.wav", "cut.aiff"}) {
        const auto path = written(name, noise(9000, 1), 1, SoundWords::int_16);
        EXPECT_FALSE(cut_short(**SoundReader::open(path)));
        std::filesystem::resize_file(path, std::filesystem::file_size(path) - 2 * 8000);
        const auto cut = SoundReader::open(path);
        ASSERT_TRUE(cut);
        EXPECT_EQ((*cut)->shape().frames, 1000);
        EXPECT_EQ(cut_short(**cut), "its head speaks of 9000 samples, and 1000 are there") << name;
    }
    // Written into a pipe: the length was not known.
    std::string bytes = test::bytes_of(written("pipe.wav", noise(100, 1), 1, SoundWords::int_16));
    bytes.replace(bytes.find("data") + 4, 4, "\xff\xff\xff\xff");
    EXPECT_FALSE(cut_short(**SoundReader::open(scratch.write("pipe.wav", bytes))));
}

TEST_F(SoundStream, WhatAFileCannotHoldIsRefused) {
    const auto refused = [&](const char* name, const SoundShape& wanted, SoundWords words) {
        return !SoundWriter::create(scratch.file(name), wanted, words);
    };
    EXPECT_TRUE(refused("a.txt", {}, SoundWords::int_16));
    EXPECT_TRUE(refused("a.flac", {}, SoundWords::float_32));
    EXPECT_TRUE(refused("a.wav", {44100.5, 1, 0}, SoundWords::int_16));
    EXPECT_TRUE(refused("none/a.wav", {}, SoundWords::int_16));
    EXPECT_TRUE(refused("a.flac", {48000, 9, 0}, SoundWords::int_16));
}

} // namespace
} // namespace syntonon
