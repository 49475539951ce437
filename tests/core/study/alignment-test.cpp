// Levels and arrivals of channels, and what makes them alike.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/alignment.h"

#include "core/study/analysis.h"
#include "core/study/kinds.h"
#include "core/study/origins.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

// A unit impulse of that height so many samples late.
SharedValue<Curve> impulse(const char* id, double height, std::size_t late) {
    Measurement measured;
    measured.impulse = {48'000, std::vector<double>(4096), 0};
    measured.impulse.samples[late] = height;
    Curve curve;
    curve.id = curve.name = id;
    curve.origin = CurveOrigin{measured, "", "", {}};
    return *worked_out(Study(), curve);
}

Study three_channels() {
    Study study = empty_study();
    study.channels.clear();
    study.curves = {impulse("a", 1, 480), impulse("b", 2, 960), impulse("c", 0.5, 720)};
    for (const auto& curve : study.curves) {
        Channel channel;
        channel.id = channel.name = "of " + curve->id;
        channel.measured = {{curve->id, 1, {}}};
        study.channels.emplace_back(channel);
    }
    return study;
}

std::vector<Standing> standings_of(const Study& study) {
    AnalysisCache cache;
    std::vector<Standing> all;
    for (const auto& channel : study.channels) {
        const auto analysis = cache.analyse(study, *channel);
        all.push_back(
            standing_of(analysis->measured, analysis->chain, axis_of(study, *channel), {}));
    }
    compare(all);
    return all;
}

TEST(Alignment, TheQuietestAndTheLatestStayAndTheOthersFollow) {
    const auto all = standings_of(three_channels());
    EXPECT_NEAR(*all[0].level_db, 0, 1e-6);
    EXPECT_NEAR(*all[1].level_db, 6.0206, 1e-4);
    EXPECT_NEAR(*all[0].gain_db, -6.0206, 1e-4);
    EXPECT_NEAR(*all[1].gain_db, -12.0412, 1e-4);
    EXPECT_NEAR(*all[2].gain_db, 0, 1e-9);
    EXPECT_NEAR(*all[0].arrival_s, 0.01, 1e-9);
    EXPECT_NEAR(*all[0].delay_s, 0.01, 1e-9);
    EXPECT_NEAR(*all[1].delay_s, 0, 1e-12);
}

TEST(Alignment, AlignedOnceTheyStandAlikeAndASecondTimeChangesNothing) {
    Study study = three_channels();
    const auto align_all = [&] { align(study, standings_of(study)); };
    align_all();
    EXPECT_EQ(study.channels[0]->stages.size(), 2u);
    EXPECT_EQ(study.channels[1]->stages.size(), 1u);
    EXPECT_EQ(std::get<DelaySpec>(*study.channels[0]->stages[1]->spec).value, 480);
    for (const Standing& standing : standings_of(study)) {
        EXPECT_NEAR(*standing.gain_db, 0, 0.006);
        EXPECT_NEAR(*standing.delay_s, 0, 1e-9);
    }
    const Study once = study;
    align_all();
    EXPECT_EQ(study, once);
    // A change of one is made up for by its own stages.
    study.curves[0] = impulse("a", 1, 500);
    align_all();
    EXPECT_EQ(std::get<DelaySpec>(*study.channels[0]->stages[1]->spec).value, 460);
    EXPECT_EQ(study.channels[0]->stages.size(), 2u);
}

TEST(Alignment, AResponseThatKeptItsDelayTellsItByItsExcessPhase) {
    Curve curve;
    for (int i = 0; i <= 960; ++i) {
        const double hz = 20 * std::exp2(i / 96.0);
        curve.frequency_hz.push_back(hz);
        curve.magnitude_db.push_back(0);
        curve.phase_deg.push_back(std::remainder(-360 * hz * 0.0021, 360));
    }
    EXPECT_NEAR(*arrival_of(curve, {}), 0.0021, 2e-5);
}

TEST(Alignment, WithoutPhaseTheArrivalIsMissingAndWhyIsSaid) {
    Study study = three_channels();
    Curve bare;
    bare.id = "bare";
    bare.name = "Row 7";
    bare.frequency_hz = {20, 20'000};
    bare.magnitude_db = {3, 3};
    study.curves.emplace_back(bare);
    study.channels[0].edit().measured.push_back({"bare", 1, {}});
    const auto all = standings_of(study);
    EXPECT_TRUE(all[0].level_db.has_value());
    EXPECT_FALSE(all[0].arrival_s.has_value());
    EXPECT_NE(all[0].missing.find("Row 7 has no phase"), std::string::npos);
    EXPECT_FALSE(all[0].delay_s.has_value());
    EXPECT_NEAR(*all[2].delay_s, 240 / 48e3, 1e-9);
}

TEST(Alignment, ARangeMustAscend) {
    EXPECT_EQ(check(AlignRange{0, 100}).error().place, "from_hz");
    EXPECT_EQ(check(AlignRange{100, 100}).error().place, "to_hz");
    EXPECT_TRUE(check(AlignRange{}));
}

} // namespace
} // namespace syntonon
