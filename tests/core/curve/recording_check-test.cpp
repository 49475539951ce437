// Each fault of a recorder is found, and a good recording is left in peace.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/recording_check.h"

#include "core/curve/gate.h"
#include "standin/recorder.h"
#include "standin/room.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

SweepPlan short_plan() {
    SweepPlan plan;
    plan.length_s = 3;
    plan.lead_out_s = 0.8;
    return plan;
}

const ImpulseResponse& dome() {
    static const ImpulseResponse impulse =
        *room_response({}, {{3, 4, 6}, {parametric(ParametricShape::high_pass, 40, 0, 0.8)}, 0},
                       {10, 9, 1.2}, 48'000);
    return impulse;
}

RecorderPlan quiet_recorder() {
    RecorderPlan plan;
    plan.signal_to_noise_db = 50;
    return plan;
}

std::vector<Doubt> doubts_about(const SweepPlan& plan, const RecorderPlan& recorder) {
    const Recording made = recorded(played_samples(plan), dome(), recorder);
    const std::vector<double> none;
    const auto& reference = made.channels.size() > 1 ? made.channels[1] : none;
    const auto found = deconvolved(made.channels[0], plan);
    EXPECT_TRUE(found.has_value());
    return doubts_of(made.channels[0], reference, plan, *found);
}

std::string text_of(const std::vector<Doubt>& doubts) {
    std::string text;
    for (const Doubt& doubt : doubts) {
        text += doubt.text + "; ";
    }
    return text;
}

void expect_only(DoubtKind kind, const std::vector<Doubt>& doubts, const std::string& says) {
    ASSERT_EQ(doubts.size(), 1u) << text_of(doubts);
    EXPECT_EQ(doubts[0].kind, kind) << text_of(doubts);
    EXPECT_NE(doubts[0].text.find(says), std::string::npos) << doubts[0].text;
    EXPECT_FALSE(doubts[0].way_out.empty());
}

TEST(RecordingCheck, NothingIsSaidOfAGoodRecording) {
    for (const int repeats : {1, 2}) {
        for (const bool reference : {false, true}) {
            SweepPlan plan = short_plan();
            plan.repeats = repeats;
            RecorderPlan recorder = quiet_recorder();
            recorder.has_reference = reference;
            recorder.late_s = reference ? 0 : 0.05;
            recorder.second_harmonic = 0.01; // a loudspeaker's
            EXPECT_EQ(text_of(doubts_about(plan, recorder)), "") << repeats << reference;
        }
    }
}

TEST(RecordingCheck, ClippingIsCounted) {
    RecorderPlan recorder = quiet_recorder();
    recorder.faults.clips_at = 0.03;
    const auto doubts = doubts_about(short_plan(), recorder);
    ASSERT_FALSE(doubts.empty());
    EXPECT_EQ(doubts[0].kind, DoubtKind::clipped) << text_of(doubts);
    EXPECT_NE(doubts[0].text.find("clipped in "), std::string::npos);
}

TEST(RecordingCheck, NoiseIsToldByItsOctave) {
    RecorderPlan recorder = quiet_recorder();
    recorder.signal_to_noise_db = -6;
    expect_only(DoubtKind::noisy, doubts_about(short_plan(), recorder), "dB above the noise at ");
}

TEST(RecordingCheck, ClocksThatRunApartAreMeasured) {
    for (const double ppm : {60.0, -90.0}) {
        RecorderPlan recorder = quiet_recorder();
        recorder.faults.drift_ppm = ppm;
        SweepPlan plan = short_plan();
        plan.length_s = 8;
        const auto doubts = doubts_about(plan, recorder);
        expect_only(DoubtKind::clocks_apart, doubts, ppm > 0 ? "faster" : "slower");
        const double told = std::stod(doubts.at(0).text.substr(24));
        EXPECT_NEAR(told, std::abs(ppm), 20) << doubts[0].text;
    }
}

TEST(RecordingCheck, ByTheDistanceOfSeveralSweepsTheyAreMeasuredToAMillionth) {
    RecorderPlan recorder = quiet_recorder();
    recorder.faults.drift_ppm = 40;
    SweepPlan plan = short_plan();
    plan.repeats = 3;
    const auto doubts = doubts_about(plan, recorder);
    const auto last = std::ranges::find(doubts, DoubtKind::clocks_apart, &Doubt::kind);
    ASSERT_NE(last, doubts.end());
    EXPECT_NE(doubts.back().text.find("40 millionths faster"), std::string::npos)
        << doubts.back().text;
}

TEST(RecordingCheck, ADroppedBlockIsFoundWhereverItWas) {
    for (const double at_s : {1.2, 2.2, 2.8}) {
        RecorderPlan recorder = quiet_recorder();
        recorder.faults.dropped_block = DroppedBlock{at_s, 256};
        const auto doubts = doubts_about(short_plan(), recorder);
        ASSERT_FALSE(doubts.empty()) << at_s;
        EXPECT_TRUE(std::ranges::all_of(doubts, [](const Doubt& doubt) {
            return doubt.kind == DoubtKind::lost_samples || doubt.kind == DoubtKind::noisy;
        })) << text_of(doubts);
        EXPECT_EQ(std::ranges::count(doubts, DoubtKind::lost_samples, &Doubt::kind), 1)
            << at_s << text_of(doubts);
    }
}

TEST(RecordingCheck, AnotherRateIsNamed) {
    RecorderPlan recorder = quiet_recorder();
    recorder.faults.true_rate_hz = 44'100;
    expect_only(DoubtKind::other_rate, doubts_about(short_plan(), recorder), "44100 Hz");
    const SweepPlan plan = short_plan();
    const Recording made = recorded(played_samples(plan), dome(), recorder);
    EXPECT_NEAR(*rate_ratio(made.channels[0], plan), 48.0 / 44.1, 0.015);
}

TEST(RecordingCheck, AReferenceThatIsMissingOrSwappedIsTold) {
    RecorderPlan recorder = quiet_recorder();
    recorder.has_reference = true;
    recorder.faults.missing_reference = true;
    expect_only(DoubtKind::missing_reference, doubts_about(short_plan(), recorder), "reference");
    recorder.faults = {};
    recorder.faults.swapped_channels = true;
    expect_only(DoubtKind::swapped_channels, doubts_about(short_plan(), recorder), "cable");
}

TEST(RecordingCheck, NoiseByBandIsTheRatioThatWasMixed) {
    // A unit impulse, which has E energy in a band, and noise of known power in it.
    ImpulseResponse impulse{48'000, std::vector<double>(96'000), 0};
    impulse.samples[100] = 1;
    unsigned state = 1;
    double power = 0;
    for (double& x : impulse.samples) {
        state = state * 1664525 + 1013904223;
        const double noise = (static_cast<double>(state) / 4294967296.0 - 0.5) * 2e-4;
        power += noise * noise;
        x += noise;
    }
    power /= 96'000;
    for (const BandNoise& band : noise_by_band(impulse)) {
        if (band.centre_hz > 200) { // enough periods for a steady mean
            EXPECT_NEAR(band.signal_to_noise_db, -10 * std::log10(power * 48'000), 1.5)
                << band.centre_hz;
        }
    }
}

} // namespace
} // namespace syntonon
