// A whole measurement in the simulated room: what comes out is what the room does.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/deconvolution.h"
#include "core/curve/gate.h"
#include "standin/recorder.h"
#include "standin/room.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const ImpulseResponse& true_response() {
    static const ImpulseResponse impulse =
        *room_response({}, {{3, 4, 6}, {parametric(ParametricShape::high_pass, 40, 0, 0.8)}, 0},
                       {10, 9, 1.2}, 48'000);
    return impulse;
}

SweepPlan wide_plan() {
    SweepPlan plan;
    plan.from_hz = 4;
    plan.to_hz = 23'500;
    plan.lead_out_s = 1;
    return plan;
}

void expect_same(const ImpulseResponse& found, double level_db, double phase_deg) {
    const Gate gate{-0.01, -0.008, 0.45, 0.5, 15};
    const double middle_s = arrival_s(true_response());
    const Curve wanted = *gated_response(true_response(), gate, middle_s);
    const CurveReader got(*gated_response(found, gate, middle_s));
    double off_db = 0, off_deg = 0;
    for (std::size_t i = 0; i < wanted.frequency_hz.size(); ++i) {
        const double hz = wanted.frequency_hz[i];
        if (hz >= 20 && hz <= 20e3) {
            off_db = std::max(off_db, std::abs(got.magnitude_db_at(hz) - wanted.magnitude_db[i]));
            off_deg = std::max(
                off_deg, std::abs(std::remainder(got.phase_deg_at(hz) - wanted.phase_deg[i], 360)));
        }
    }
    EXPECT_LT(off_db, level_db);
    EXPECT_LT(off_deg, phase_deg);
}

TEST(Measuring, At60DbAboveTheNoiseTheResponseIsTheRooms) {
    RecorderPlan recorder;
    recorder.signal_to_noise_db = 60;
    const SweepPlan plan = wide_plan();
    const Recording made = recorded(played_samples(plan), true_response(), recorder);
    expect_same(deconvolved(made.channels[0], plan)->response, 0.05, 1);
}

TEST(Measuring, AReferenceTakesOutThatTheRecorderBeganEarlier) {
    RecorderPlan recorder;
    recorder.signal_to_noise_db = 60;
    recorder.late_s = 0.2;
    recorder.has_reference = true;
    const SweepPlan plan = wide_plan();
    const Recording made = recorded(played_samples(plan), true_response(), recorder);
    expect_same(deconvolved_against(made.channels[0], made.channels[1], plan)->response, 0.05, 1);
}

TEST(Measuring, FourSweepsHaveHalfTheNoiseOfOne) {
    SweepPlan plan;
    plan.length_s = 1;
    plan.lead_out_s = 0.6;
    const auto noise_left = [&](int repeats) {
        plan.repeats = repeats;
        const auto found = [&](std::optional<double> signal_to_noise_db) {
            RecorderPlan recorder;
            recorder.signal_to_noise_db = signal_to_noise_db;
            const Recording made = recorded(played_samples(plan), true_response(), recorder);
            return deconvolved(made.channels[0], plan)->response;
        };
        const ImpulseResponse noisy = found(20), clean = found({});
        double power = 0;
        for (std::size_t n = 0; n < noisy.samples.size(); ++n) {
            const double noise = noisy.samples[n] - clean.samples.at(n);
            power += noise * noise;
        }
        return power / static_cast<double>(noisy.samples.size());
    };
    EXPECT_NEAR(noise_left(1) / noise_left(4), 4, 0.4);
}

} // namespace
} // namespace syntonon
