// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/study_signal.h"

#include "core/base/units.h"
#include "core/exchange/file_digest.h"
#include "core/signal/make_signal.h"
#include "tests/support/scratch.h"
#include "tests/support/sounds.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

class StudySignals : public testing::Test {
protected:
    StudySignals() {
        samples.resize(2 * 480);
        for (std::size_t n = 0; n < 480; ++n) {
            samples[2 * n] = static_cast<double>(n) / 512;
            samples[2 * n + 1] = -static_cast<double>(n) / 512;
        }
        test::write_sound(scratch.file("two.wav"), samples, {48000, 2, 0});
    }
    void add(const char* id, Recipe recipe, double length_samples = 480) {
        study.test_signals.emplace_back(
            Signal{id, id, {LengthUnit::samples, length_samples}, std::move(recipe), {}});
    }
    Expected<StudySignal> made(const char* id) {
        return samples_of_signal(study, id, scratch.folder());
    }
    std::string problem(const char* id) {
        const auto one = made(id);
        return one ? "" : to_text(one.error());
    }

    test::Scratch scratch;
    std::vector<double> samples;
    Study study = empty_study();
};

TEST_F(StudySignals, TakeAChannelOfAFile) {
    add("right", FileRecipe{"two.wav", *digest_of_file(scratch.file("two.wav")), 2, 0, false});
    add("absolute", FileRecipe{scratch.file("two.wav").string(), "", 1, 0, false});
    add("later", FileRecipe{"two.wav", "", 1, 100.0 / 48000, false}, 500);
    const auto right = made("right").value();
    EXPECT_TRUE(right.remarks.empty());
    EXPECT_EQ(right.samples.at(300), -300.0 / 512);
    EXPECT_EQ(made("absolute").value().samples.at(300), 300.0 / 512);
    const auto later = made("later").value();
    EXPECT_EQ(later.samples.size(), 500U);
    EXPECT_EQ(later.samples[0], 100.0 / 512);
    EXPECT_EQ(later.samples[379], 479.0 / 512);
    EXPECT_EQ(later.samples[380], 0); // silence behind its end
}

TEST_F(StudySignals, SayWhatIsToBeKnown) {
    add("changed", FileRecipe{"two.wav", "xxh3-0000000000000000", 1, 0, false}, 240);
    const auto remarks = made("changed").value().remarks;
    ASSERT_EQ(remarks.size(), 2U);
    EXPECT_EQ(remarks[0], "two.wav has changed since it was chosen.");
    EXPECT_TRUE(remarks[1].starts_with("two.wav goes on for another")) << remarks[1];
}

TEST_F(StudySignals, AskBeforeAFileIsConverted) {
    std::vector<double> tone(4410);
    for (std::size_t n = 0; n < tone.size(); ++n) {
        tone[n] = 0.5 * std::sin(2 * pi * 1000 * static_cast<double>(n) / 44100);
    }
    test::write_sound(scratch.file("cd.wav"), tone, {44100, 1, 0});
    add("cd", FileRecipe{"cd.wav", "", 1, 0, false}, 4800);
    add("converted", FileRecipe{"cd.wav", "", 1, 0, true}, 4800);
    EXPECT_EQ(problem("cd"), "signals[0].convert: " + scratch.file("cd.wav").string()
                                 + " has 44100 Hz, and the study 48000 Hz; set convert, or change "
                                   "the study's sample rate");
    const auto converted = made("converted").value();
    EXPECT_EQ(converted.remarks.at(0), "cd.wav is converted from 44100 Hz.");
    for (std::size_t n = 1000; n < 3800; ++n) {
        ASSERT_NEAR(converted.samples[n],
                    0.5 * std::sin(2 * pi * 1000 * static_cast<double>(n) / 48000), 2e-6)
            << n;
    }
}

TEST_F(StudySignals, MixOthersOfAnyLength) {
    add("long", ToneRecipe{1000, 0, 0}, 480);
    add("short", OffsetRecipe{1}, 240);
    add("mix", MixRecipe{"long", "short", 0}, 480);
    add("nested", MixRecipe{"mix", "long", 0}, 960);
    const auto mixed = made("mix").value().samples;
    const auto tone = made("long").value().samples;
    EXPECT_NEAR(mixed[100] - tone[100], 1, 1e-12); // half as long, of twice the power
    EXPECT_EQ(mixed[300], tone[300]);
    EXPECT_EQ(made("nested").value().samples.size(), 960U);
}

TEST_F(StudySignals, RefuseWithTheirPlace) {
    add("a", MixRecipe{"b", "c", 0});
    add("b", MixRecipe{"a", "c", 0});
    add("c", ToneRecipe{1e5, 0, 0});
    add("gone", FileRecipe{"gone.wav", "", 1, 0, false});
    add("third", FileRecipe{"two.wav", "", 3, 0, false});
    add("behind", FileRecipe{"two.wav", "", 1, 1, false});
    add("with-c", MixRecipe{"third", "c", 0});
    EXPECT_TRUE(problem("a").find("signals[0]: mixes itself in: b is part of a")
                != std::string::npos)
        << problem("a");
    EXPECT_TRUE(problem("c").starts_with("signals[2].frequency_hz: "));
    EXPECT_TRUE(problem("gone").find("gone.wav") != std::string::npos);
    EXPECT_TRUE(problem("third").starts_with("signals[4].channel: 3 is not there"));
    EXPECT_TRUE(problem("behind").starts_with("signals[5].from_s: "));
    EXPECT_TRUE(problem("nobody").starts_with("there is no signal “nobody”"));
    EXPECT_TRUE(problem("with-c").find("signals[4].channel") != std::string::npos);
}

TEST_F(StudySignals, RefuseWhatCannotBeRead) {
    const std::string bytes = test::bytes_of(scratch.file("two.wav"));
    scratch.write("short.wav", bytes.substr(0, bytes.size() - 400));
    scratch.write("text.wav", "no sound at all");
    test::write_sound(scratch.file("none.wav"), {}, {48000, 1, 0});
    std::vector<double> odd(480);
    odd[70] = std::nan("");
    test::write_sound(scratch.file("odd.wav"), odd, {48000, 1, 0});
    for (const char* name : {"text", "none", "odd"}) {
        add(name, FileRecipe{std::string(name) + ".wav", "", 1, 0, false});
    }
    EXPECT_TRUE(problem("text").find("is no sound file") != std::string::npos) << problem("text");
    EXPECT_TRUE(problem("none").find("holds no samples") != std::string::npos) << problem("none");
    EXPECT_TRUE(problem("odd").find("sample 70") != std::string::npos) << problem("odd");
}

TEST_F(StudySignals, AreStopped) {
    add("right", FileRecipe{"two.wav", "", 2, 0, false});
    Watch watch;
    watch.stop();
    EXPECT_FALSE(samples_of_signal(study, "right", scratch.folder(), watch));
}

// The published value of the empty input (Y. Collet, xxHash specification, XXH3 64 bits, seed 0).
TEST(FileDigest, IsOfTheFilesBytes) {
    const test::Scratch scratch;
    EXPECT_EQ(*digest_of_file(scratch.write("empty", "")), "xxh3-2d06800538d394c2");
    const auto one = digest_of_file(scratch.write("one", "abc"));
    EXPECT_NE(*one, *digest_of_file(scratch.write("two", "abd")));
    EXPECT_EQ(*one, *digest_of_file(scratch.write("three", "abc")));
    EXPECT_EQ(digest_of_file(scratch.file("none")).error().place, scratch.file("none").string());
}

} // namespace
} // namespace syntonon
