// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/predicted_timing.h"

#include "core/study/analysis.h"
#include "core/study/kinds.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

// 1 ms of delay, measured; the chain delays by 96 samples, 2 ms.
TEST(PredictedTiming, IsTheMeasuredOneAndTheChainsTogether) {
    Curve measured;
    for (int i = 0; i <= 960; ++i) {
        const double hz = 100 * std::exp2(i / 192.0);
        measured.frequency_hz.push_back(hz);
        measured.magnitude_db.push_back(0);
        measured.phase_deg.push_back(std::remainder(-360 * hz * 1e-3, 360));
    }
    Study study = empty_study();
    Stage stage;
    stage.id = "d";
    stage.spec = DelaySpec{DelayUnit::samples, 96};
    study.channels[0].edit().stages = {stage};
    AnalysisCache cache;
    const auto analysis = cache.analyse(study, *study.channels[0]);
    const Trace made = predicted_timing(analysis->total, MeasuredTiming(measured), 48'000);
    ASSERT_GT(made.frequency_hz.size(), 100u);
    EXPECT_GE(made.frequency_hz.front(), 100);
    EXPECT_LE(made.frequency_hz.back(), 3200);
    for (std::size_t i = 0; i < made.frequency_hz.size(); ++i) {
        EXPECT_NEAR(made.response.group_delay_samples[i], 144, 0.05);
        const double turns =
            (made.response.phase_rad[i] + 2 * std::numbers::pi * made.frequency_hz[i] * 3e-3)
            / (2 * std::numbers::pi);
        EXPECT_NEAR(turns, std::round(turns), 1e-3) << made.frequency_hz[i];
    }
}

} // namespace
} // namespace syntonon
