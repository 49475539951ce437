// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/batch/batch_fixture.h"

#include "core/base/units.h"
#include "core/exchange/sound_stream.h"
#include "core/study/kinds.h"
#include "tests/support/noise.h"
#include "tests/support/sounds.h"

#include <cmath>
#include <sstream>

namespace syntonon {
namespace {

class Process : public test::Batch {
protected:
    std::string sound(const std::string& name, const std::vector<double>& samples, int channels = 1,
                      double rate = 48000) const {
        test::write_sound(scratch.file(name), samples, {rate, channels, 0});
        return scratch.file(name).string();
    }
    std::vector<double> samples_of(const std::string& name) const {
        return test::read_sound(scratch.file(name));
    }
    std::string to(const char* name) const { return scratch.file(name).string(); }
    // The values of the impulse command.
    std::vector<double> impulse(const std::string& channel, int length) {
        std::istringstream lines(run("impulse " + study + " --channel " + channel + " --length "
                                     + std::to_string(length))
                                     .out);
        std::string line;
        std::getline(lines, line);
        std::vector<double> values;
        while (std::getline(lines, line)) {
            values.push_back(std::stod(line.substr(line.find(',') + 1)));
        }
        return values;
    }
};

// Longer than what goes through at a time, the impulse late, the second channel half as loud.
TEST_F(Process, AnImpulseComesOutAsTheImpulseResponse) {
    constexpr std::size_t frames = 40'000, at = 20'000;
    std::vector<double> samples(2 * frames, 0.0);
    samples[2 * at] = 0.5;
    samples[2 * at + 1] = -0.25;
    const std::string in = sound("in.wav", samples, 2);
    for (const char* channel : {"zenith", "docent", "sunrise"}) {
        const auto call =
            run("process " + study + " --channel " + channel + " " + in + " " + to("out.wav"));
        ASSERT_EQ(call.code, 0) << call.err;
        EXPECT_TRUE(call.out.starts_with("file,frames,channels,peak_dbfs,clipped_samples\n"));
        EXPECT_NE(call.out.find(",40000,2,"), std::string::npos) << call.out;
        const auto expected = impulse(channel, frames - at);
        const auto found = samples_of("out.wav");
        for (std::size_t n = 0; n < frames - at; ++n) {
            ASSERT_NEAR(found[2 * (at + n)], 0.5 * expected[n], 1e-7) << channel << " " << n;
            ASSERT_NEAR(found[2 * (at + n) + 1], -0.25 * expected[n], 1e-7);
        }
        EXPECT_EQ(found[2 * at - 1], 0) << "nothing before the impulse";
    }
}

TEST_F(Process, WordsAreAsAskedForAndWhatIsCutIsSaid) {
    const std::string in = sound("in.wav", {0.5, 4, -4, 0, 0.1});
    const std::string call = "process " + study + " --channel zenith " + in + " ";
    const auto floats = run(call + to("a.wav"));
    EXPECT_EQ(floats.code, 0) << floats.err;
    EXPECT_EQ(floats.err, "");
    const auto cut = run(call + to("b.flac") + " --words 16");
    EXPECT_EQ(cut.code, 0) << cut.err;
    EXPECT_NE(cut.err.find("beyond full scale"), std::string::npos) << cut.err;
    EXPECT_LE(std::abs(samples_of("b.flac")[1]), 1);
    EXPECT_EQ(run(call + to("c.wav") + " --words 12").code, 2);
    EXPECT_EQ(run(call + to("c.flac") + " --words float").code, 2);
    EXPECT_EQ(run(call + to("d.FLAC")).code, 0);
    EXPECT_EQ(run(call + in).code, 0) << "in place";
}

TEST_F(Process, WhatCannotBeDoneIsSaidAndLeavesNothing) {
    const std::string in = sound("in.wav", noise(100, 1));
    const auto refused = [&](const std::string& words, const char* why) {
        const auto call = run("process " + words + " " + to("out.wav"));
        EXPECT_EQ(call.code, 2) << why;
        EXPECT_NE(call.err.find(why), std::string::npos) << call.err;
        EXPECT_EQ(call.err.find(".syntonon: " + scratch.folder().string()), std::string::npos)
            << "a sound file stands by itself: " << call.err;
        EXPECT_FALSE(std::filesystem::exists(scratch.file("out.wav")));
        EXPECT_FALSE(std::filesystem::exists(scratch.file("out.wav.part")));
    };
    const std::string zenith = study + " --channel zenith ";
    refused(zenith + to("none.wav"), "no sound file");
    refused(zenith + sound("other.wav", noise(100, 1), 1, 44100), "44100 Hz");
    refused(study + " --channel plenum " + in, "analog");
    refused(study + " --channel nobody " + in, "nobody");
    refused(zenith + sound("odd.wav", {0, 0, std::nan("")}), "sample 2");
    const std::string unstable = write_study([](Study& changed) {
        Stage stage;
        stage.id = "grows";
        RecursionSpec grows;
        grows.b = {1};
        grows.a = {1, -1.1};
        stage.spec = grows;
        changed.channels[0].edit().stages.emplace_back(stage);
    });
    refused(unstable + " --channel zenith " + in, "unstable");
}

TEST_F(Process, AFileThatIsCutShortIsSaid) {
    const std::string in = sound("in.wav", noise(1000, 1));
    std::filesystem::resize_file(in, 2000);
    const auto call = run("process " + study + " --channel zenith " + in + " " + to("out.wav"));
    EXPECT_EQ(call.code, 0) << call.err;
    EXPECT_NE(call.err.find("in.wav: is cut short: its head speaks of 1000 samples"),
              std::string::npos)
        << call.err;
}

// The tail is what the impulse response says beyond the file's end.
TEST_F(Process, LetsWhatRingsOnRingOut) {
    std::vector<double> samples(1000);
    samples[990] = 1;
    const std::string in = sound("in.wav", samples);
    ASSERT_EQ(
        run("process " + study + " --channel docent --tail 0.05 " + in + " " + to("out.wav")).code,
        0);
    const auto out = samples_of("out.wav");
    ASSERT_EQ(out.size(), 1000U + 2400U);
    const auto expected = impulse("docent", 2410);
    for (std::size_t n = 0; n < expected.size(); ++n) {
        ASSERT_NEAR(out[990 + n], expected[n], 1e-7) << n;
    }
    EXPECT_EQ(
        run("process " + study + " --channel docent --tail soon " + in + " " + to("o.wav")).err,
        study + ": --tail: “soon” is no number of seconds; give one from 0 to 86400\n");
}

TEST_F(Process, ConvertsAFileOfAnotherRateWhenAsked) {
    std::vector<double> tone(44100);
    for (std::size_t n = 0; n < tone.size(); ++n) {
        tone[n] = 0.5 * std::sin(2 * pi * 1000 * static_cast<double>(n) / 44100);
    }
    const std::string in = sound("in.wav", tone, 1, 44100);
    const std::string call = "process " + study + " --channel docent " + in + " " + to("out.wav");
    EXPECT_EQ(run(call).err, in
                                 + ": has 44100 Hz, and the study 48000 Hz; say --convert, or "
                                   "change the study's sample rate\n");
    ASSERT_EQ(run(call + " --convert").code, 0);
    const auto out = samples_of("out.wav");
    EXPECT_NEAR(static_cast<double>(out.size()), 48000, 2);
    const auto gain = rows(run("respond " + study + " --channel docent --at 1000").out);
    double power = 0;
    for (std::size_t n = 12000; n < 36000; ++n) {
        power += out[n] * out[n] / 24000;
    }
    EXPECT_NEAR(10 * std::log10(power / 0.125), number(gain[0][1]), 1e-3);
}

} // namespace
} // namespace syntonon
