// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/taps_file.h"

#include "core/base/file.h"
#include "tests/support/scratch.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const std::vector<double> few{0.1, -1.0, 1.0 / 3, 0.0, 1e-9};
const std::vector<std::string> head{"study: {odd} name\nof two lines", "taps: 5"};

class TapsFile : public testing::Test {
protected:
    std::filesystem::path at(const char* name) const { return scratch_.file(name); }

    WrittenTaps written(const char* name, const TapsFileWriting& writing) {
        const auto done = write_taps(at(name), few, writing);
        EXPECT_TRUE(done) << to_text(done.error());
        return done.value_or(WrittenTaps{});
    }

private:
    test::Scratch scratch_;
};

TEST_F(TapsFile, WhatLosesNothingComesBackToTheBit) {
    EXPECT_EQ(written("a.txt", {TapsFormat::lines}).greatest_deviation, 0);
    EXPECT_EQ(written("b.txt", {TapsFormat::lines, head}).greatest_deviation, 0);
    EXPECT_EQ(written("c.txt", {TapsFormat::indexed, head}).greatest_deviation, 0);
    EXPECT_EQ(written("d.h", {TapsFormat::c_array, head}).greatest_deviation, 0);
    EXPECT_EQ(written("e.wav", {TapsFormat::wav}).greatest_deviation, 0);
    const auto sound = read_taps(at("e.wav"), {});
    EXPECT_EQ(sound->taps, few);
    EXPECT_EQ(sound->sample_rate_hz, 48000);
}

TEST_F(TapsFile, WordsStateTheirFormatAndAreHalfAWordOffAtMost) {
    TapsFileWriting writing{TapsFormat::words, head, {24, 22}};
    EXPECT_LE(written("w.txt", writing).greatest_deviation, std::ldexp(0.5, -22));
    EXPECT_NE(read_file(at("w.txt"), 1000)->find("0xC00000"), std::string::npos) << "-1";
    writing.words = {16, 15};
    EXPECT_LE(written("q.txt", writing).greatest_deviation, std::ldexp(0.5, -15));
    const auto beyond = write_taps(at("x.txt"), std::vector{0.5, 1.5}, writing);
    ASSERT_FALSE(beyond);
    EXPECT_EQ(beyond.error().place, "taps[1]");
    EXPECT_NE(beyond.error().reason.find("from -1 to 0.99996"), std::string::npos)
        << beyond.error().reason;
    EXPECT_FALSE(std::filesystem::exists(at("x.txt")));
}

TEST_F(TapsFile, FlacHas24BitsAndNothingBeyondOne) {
    EXPECT_LE(written("f.flac", {TapsFormat::flac}).greatest_deviation, std::ldexp(1.0, -23));
    const auto beyond = write_taps(at("x.flac"), std::vector{0.5, 1.5}, {TapsFormat::flac});
    ASSERT_FALSE(beyond);
    EXPECT_EQ(beyond.error().place, "taps[1]");
    EXPECT_NE(beyond.error().way_out.find("WAV"), std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(at("x.flac")));
}

TEST_F(TapsFile, AMillionTapsGoThere) {
    std::vector<double> many(1 << 20);
    for (std::size_t i = 0; i < many.size(); ++i) {
        many[i] = std::sin(static_cast<double>(i)) / 3;
    }
    for (const auto& [name, format] :
         {std::pair{"m.txt", TapsFormat::lines}, {"m.wav", TapsFormat::wav}}) {
        ASSERT_TRUE(write_taps(at(name), many, {format}));
        EXPECT_EQ(read_taps(at(name), {})->taps, many);
    }
}

TEST_F(TapsFile, WhatIsNoSoundFileIsSaid) {
    const auto refused = [&](const std::string& bytes, const char* name, int channel = 0) {
        EXPECT_TRUE(write_file_atomically(at(name), bytes));
        const auto read = read_taps(at(name), {{}, channel});
        EXPECT_FALSE(read);
        return read ? Problem{} : read.error();
    };
    EXPECT_NE(refused("no sound at all", "a.wav").reason.find("cannot be read"), std::string::npos);
    EXPECT_FALSE(refused("", "b.wav").reason.empty());
    const std::string whole = *sound_of_taps(few, 44100, SoundFormat::wav);
    EXPECT_NE(refused(whole, "c.wav", 1).reason.find("has 1 channel,"), std::string::npos);
    const std::string flac = *sound_of_taps(few, 44100, SoundFormat::flac);
    EXPECT_FALSE(refused(flac.substr(0, flac.size() / 3), "d.flac").reason.empty());
    std::string broken = whole;
    broken.replace(broken.size() - 8, 8, "\x01\x00\x00\x00\x00\x00\xF0\x7F", 8);
    EXPECT_NE(refused(broken, "e.wav").place.find("sample 4"), std::string::npos);
    EXPECT_FALSE(read_taps(at("not there.wav"), {}));
    const auto tenth = write_taps(at("r.wav"), few, {TapsFormat::wav, {}, {}, 44100.5});
    ASSERT_FALSE(tenth);
    EXPECT_EQ(tenth.error().place, "sample_rate_hz");
}

TEST_F(TapsFile, AnEndingOfAnotherFormatIsRefused) {
    EXPECT_FALSE(write_taps(at("taps.wav"), few, {TapsFormat::lines}));
    EXPECT_FALSE(write_taps(at("taps.txt"), few, {TapsFormat::flac}));
}

} // namespace
} // namespace syntonon
