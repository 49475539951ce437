// Files with measurements in them, the good and the bad.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/measured_file.h"

#include "core/exchange/sound_channels.h"
#include "standin/recorder.h"
#include "tests/support/scratch.h"
#include "tests/support/sounds.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

using test::Scratch;
using test::write_sound;

std::vector<double> impulse(std::size_t length, std::size_t at) {
    std::vector<double> samples(length);
    samples[at] = 0.5;
    return samples;
}

SweepPlan short_plan() {
    SweepPlan plan;
    plan.length_s = 1;
    plan.lead_in_s = 0.1;
    plan.lead_out_s = 0.3;
    return plan;
}

Recording recording_of(const RecorderPlan& recorder) {
    return recorded(played_samples(short_plan()), {48'000, impulse(400, 100), 0}, recorder);
}

void write_channels(const std::filesystem::path& path,
                    const std::vector<std::vector<double>>& channels, double rate_hz = 48'000) {
    EXPECT_TRUE(write_sound_channels(path, {rate_hz, channels, {}}));
}

TEST(MeasuredFile, EveryChannelOfASoundIsAnImpulseResponseAtItsOwnRate) {
    const Scratch scratch;
    const auto path = scratch.file("both.wav");
    write_channels(path, {impulse(2000, 96), impulse(2000, 192)}, 96'000);
    const MeasuredFile file = read_measured_file(path);
    ASSERT_FALSE(file.problem) << to_text(*file.problem);
    EXPECT_EQ(file.sound, SoundHolds::impulse_responses);
    ASSERT_EQ(file.entries.size(), 2u);
    EXPECT_EQ(file.entries[1].channel, 2);
    EXPECT_NEAR(file.entries[0].curve.delay_s, 1e-3, 1e-9);
    EXPECT_NEAR(file.entries[1].curve.delay_s, 2e-3, 1e-9);
    EXPECT_EQ(file.entries[0].curve.high_hz(), 48'000);
    EXPECT_NEAR(file.entries[0].curve.magnitude_db[10], 20 * std::log10(0.5), 1e-6);
}

TEST(MeasuredFile, ASilentChannelIsLeftOutAndSaid) {
    const Scratch scratch;
    const auto path = scratch.file("one.wav");
    write_channels(path, {impulse(500, 10), std::vector<double>(500)});
    const MeasuredFile file = read_measured_file(path);
    ASSERT_EQ(file.entries.size(), 1u);
    EXPECT_EQ(file.entries[0].notes,
              std::vector<std::string>{"Channel 2 of 2 is silent and left out."});
}

TEST(MeasuredFile, ARecordedSweepIsTakenForOneAndDeconvolved) {
    const Scratch scratch;
    const auto path = scratch.file("sweep.wav");
    write_sound(path, recording_of({}).channels[0]);
    MeasuredFileOptions options;
    options.sweep = short_plan();
    const MeasuredFile file = read_measured_file(path, options);
    ASSERT_FALSE(file.problem) << to_text(*file.problem);
    EXPECT_EQ(file.sound, SoundHolds::sweep_recordings);
    EXPECT_NEAR(file.entries[0].curve.delay_s, 100 / 48e3, 1e-6);
    EXPECT_TRUE(file.entries[0].doubts.empty()) << file.entries[0].doubts[0].text;
    EXPECT_EQ(file.entries[0].curve.origin->measured->harmonics.size(), 4u);
    EXPECT_NEAR(CurveReader(file.entries[0].curve).magnitude_db_at(1000), 20 * std::log10(0.5),
                0.01);
}

TEST(MeasuredFile, ASweepThatIsCutShortIsStillTakenForOne) {
    const Scratch scratch;
    const auto path = scratch.file("cut.wav");
    MeasuredFileOptions options;
    options.sweep.length_s = 3;
    auto samples = played_samples(options.sweep);
    samples.resize(96'000); // half of it, which ends below 500 Hz
    write_sound(path, samples);
    const MeasuredFile file = read_measured_file(path, options);
    EXPECT_EQ(file.sound, SoundHolds::sweep_recordings);
    ASSERT_TRUE(file.problem);
    EXPECT_NE(to_text(*file.problem).find("has 96000 samples, and the sweep alone"),
              std::string::npos)
        << to_text(*file.problem);
}

TEST(MeasuredFile, AHallThatRingsForLongIsNoSweep) {
    const Scratch scratch;
    const auto path = scratch.file("hall.wav");
    std::vector<double> samples = impulse(96'000, 200);
    unsigned state = 7;
    for (std::size_t n = 200; n < samples.size(); ++n) {
        state = state * 1664525 + 1013904223;
        samples[n] += 0.3 * (static_cast<double>(state) / 4294967296.0 - 0.5)
                      * std::exp(-static_cast<double>(n) / 20'000);
    }
    write_sound(path, samples);
    EXPECT_EQ(read_measured_file(path).sound, SoundHolds::impulse_responses);
}

TEST(MeasuredFile, AReferenceChannelTakesOutTheRecordersOwnDelay) {
    const Scratch scratch;
    const auto path = scratch.file("sweep.wav");
    RecorderPlan recorder;
    recorder.late_s = 0.05;
    recorder.has_reference = true;
    write_channels(path, recording_of(recorder).channels);
    MeasuredFileOptions options;
    options.sweep = short_plan();
    options.reference_channel = 2;
    const MeasuredFile file = read_measured_file(path, options);
    ASSERT_FALSE(file.problem) << to_text(*file.problem);
    ASSERT_EQ(file.entries.size(), 1u);
    EXPECT_NEAR(file.entries[0].curve.delay_s, 100 / 48e3, 1e-6);
    options.reference_channel = 3;
    EXPECT_TRUE(read_measured_file(path, options).problem.has_value());
    recorder.faults.missing_reference = true;
    write_channels(path, recording_of(recorder).channels);
    options.reference_channel = 2;
    const MeasuredFile without = read_measured_file(path, options);
    ASSERT_EQ(without.entries.size(), 1u);
    EXPECT_EQ(without.entries[0].doubts.at(0).kind, DoubtKind::missing_reference);
}

TEST(MeasuredFile, TheRateItWasRecordedAtCanBeSaid) {
    const Scratch scratch;
    const auto path = scratch.file("sweep.wav");
    RecorderPlan recorder;
    recorder.faults.true_rate_hz = 44'100;
    write_sound(path, recording_of(recorder).channels[0]);
    MeasuredFileOptions options;
    options.sweep = short_plan();
    options.sounds = SoundHolds::sweep_recordings;
    const MeasuredFile wrong = read_measured_file(path, options);
    ASSERT_EQ(wrong.entries.size(), 1u);
    EXPECT_EQ(wrong.entries[0].doubts.at(0).kind, DoubtKind::other_rate);
    options.rate_by_sweep = true;
    const MeasuredFile right = read_measured_file(path, options);
    ASSERT_EQ(right.entries.size(), 1u);
    EXPECT_TRUE(right.entries[0].doubts.empty()) << right.entries[0].doubts[0].text;
    EXPECT_NE(right.entries[0].notes.at(0).find("44100 Hz"), std::string::npos);
    const CurveReader level(right.entries[0].curve);
    EXPECT_NEAR(level.magnitude_db_at(1000), 20 * std::log10(0.5), 0.01);
    EXPECT_NEAR(right.entries[0].curve.delay_s, 100 / 48e3, 5e-6);
}

TEST(MeasuredFile, TextIsReadAsBefore) {
    const Scratch scratch;
    const auto path = scratch.write("a.txt", "100 1,5\n200 2,5\n");
    const MeasuredFile file = read_measured_file(path);
    ASSERT_FALSE(file.problem) << to_text(*file.problem);
    EXPECT_FALSE(file.sound.has_value());
    EXPECT_FALSE(file.entries[0].curve.origin.has_value());
    EXPECT_EQ(file.entries[0].notes,
              std::vector<std::string>{"Commas were read as decimal points."});
}

std::string problem_with(const std::filesystem::path& path,
                         const MeasuredFileOptions& options = {}) {
    const MeasuredFile file = read_measured_file(path, options);
    EXPECT_TRUE(file.entries.empty());
    if (!file.problem) {
        return "none";
    }
    EXPECT_TRUE(file.problem->place.starts_with(path.string())) << file.problem->place;
    EXPECT_FALSE(file.problem->way_out.empty());
    return file.problem->reason;
}

TEST(MeasuredFile, BadFilesAreRefusedUnderTheirNames) {
    const Scratch scratch;
    const auto path = scratch.file("bad.wav");
    write_sound(path, std::vector<double>(1000));
    EXPECT_EQ(problem_with(path), "is silent");
    write_sound(path, {0.5, std::numeric_limits<double>::quiet_NaN(), 0.1});
    EXPECT_NE(problem_with(path).find("finite"), std::string::npos);
    EXPECT_NE(problem_with(scratch.write("text.wav", "not a sound")), "none");
    EXPECT_NE(problem_with(scratch.file("nowhere.wav")), "none");
    MeasuredFileOptions options;
    options.sounds = SoundHolds::sweep_recordings;
    write_sound(path, impulse(4800, 100));
    EXPECT_NE(problem_with(path, options).find("the sweep alone"), std::string::npos);
}

TEST(MeasuredFile, AFileOfADayIsRefusedByItsHead) {
    const Scratch scratch;
    const auto path = scratch.file("day.flac");
    auto writer = *SoundWriter::create(path, {500, 1, 0}, SoundWords::int_16);
    const std::vector<double> minute(500 * 60);
    for (int i = 0; i < 24 * 60; ++i) {
        ASSERT_TRUE(writer->write(minute));
    }
    ASSERT_TRUE(writer->finish());
    EXPECT_EQ(problem_with(path), "holds 24 hours of 1 channel");
}

TEST(MeasuredFile, ACutFileIsTakenAsFarAsItGoesAndFullScaleIsSaid) {
    const Scratch scratch;
    const auto whole = scratch.file("whole.wav");
    std::vector<double> loud = impulse(4000, 100);
    loud[101] = loud[102] = 1;
    write_sound(whole, loud);
    const std::string bytes = test::bytes_of(whole);
    const auto cut = scratch.write("cut.wav", bytes.substr(0, bytes.size() / 2));
    const MeasuredFile file = read_measured_file(cut);
    ASSERT_EQ(file.entries.size(), 1u);
    ASSERT_EQ(file.entries[0].notes.size(), 2u);
    EXPECT_NE(file.entries[0].notes[0].find("full scale"), std::string::npos);
    EXPECT_NE(file.entries[0].notes[1].find("cut short"), std::string::npos);
}

} // namespace
} // namespace syntonon
