// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/analysis.h"

#include "core/base/units.h"
#include "core/study/finish_designs.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

ParametricSpec& parametric(Study& study, std::size_t channel, std::size_t stage) {
    return std::get<ParametricSpec>(
        study.channels[channel].edit().stages[stage].edit().spec.edit());
}

class Analysis : public testing::Test {
protected:
    Study study = brightwater_study();
    AnalysisCache cache;
    ChannelPoint at(double hz) { return point_at(*zenith(), hz); }
    std::shared_ptr<const ChannelAnalysis> zenith() {
        return cache.analyse(study, *study.channels[0]);
    }
};

TEST_F(Analysis, AChangeRecomputesThatStageAlone) {
    zenith();
    EXPECT_EQ(cache.designed_stages(), 6u);
    parametric(study, 0, 3).gain_db += 1;
    zenith();
    EXPECT_EQ(cache.designed_stages(), 7u);
    study.channels[0].edit().stages[2].edit().enabled = false;
    std::swap(study.channels[0].edit().stages[0], study.channels[0].edit().stages[5]);
    study.channels[0].edit().stages.erase(study.channels[0].edit().stages.begin() + 1);
    zenith();
    EXPECT_EQ(cache.designed_stages(), 7u) << "switching, moving and removing need no design";
    study.sample_rate_hz = 96000;
    zenith();
    EXPECT_EQ(cache.designed_stages(), 14u) << "five stages and two that only takes still have";
}

TEST_F(Analysis, AStageThatStandsForThoseAboveIsDrawnAlone) {
    const auto before = zenith();
    FirSpec spec;
    spec.method = FromChainFir();
    spec.length = 4095;
    Stage fir;
    fir.id = "fir";
    fir.spec = spec;
    study.channels[0].edit().stages.emplace_back(fir);
    finish_designs(study, std::vector<ChannelView>{{"zenith", {}}}, cache.briefs());
    const auto after = zenith();
    ASSERT_TRUE(after->waits_for.empty());
    for (std::size_t i = 0; i < after->total.frequency_hz.size(); ++i) {
        const double hz = after->total.frequency_hz[i];
        EXPECT_NEAR(after->total.response.magnitude_db[i],
                    after->chain.response_at(hz, 48000).magnitude_db, 1e-6)
            << hz;
    }
}

TEST_F(Analysis, AVerdictThatTakesLongIsAJobWhereThatIsWished) {
    std::vector<double> taps(16384, 1e-6);
    taps[3000] = 1;
    Stage fir;
    fir.id = "fir";
    fir.spec = TapsSpec{std::make_shared<const std::vector<double>>(taps)};
    study.channels[0].edit().stages.emplace_back(fir);
    study.channels[0].edit().takes.clear();
    const ChannelView key{study.channels[0]->id, {}};
    const auto waiting = cache.analyse(study, *study.channels[0], {}, Judging::later);
    ASSERT_NE(waiting->judging, nullptr);
    EXPECT_EQ(waiting->verdict.front().outcome, Outcome::undecided);
    EXPECT_NE(waiting->verdict.front().reason.find("being found"), std::string::npos);
    EXPECT_EQ(cache.analyse(study, *study.channels[0], {}, Judging::later), waiting)
        << "nothing has changed";
    const Verdict found = run(*waiting->judging);
    cache.take_verdict(key, *waiting->judging, found);
    const auto judged = cache.analyse(study, *study.channels[0], {}, Judging::later);
    EXPECT_EQ(judged->judging, nullptr);
    EXPECT_NE(judged->verdict.front().outcome, Outcome::undecided)
        << judged->verdict.front().reason;
    // What was overtaken is not taken; who cannot wait gets it at once.
    parametric(study, 0, 3).gain_db += 1;
    const auto next = cache.analyse(study, *study.channels[0], {}, Judging::later);
    ASSERT_NE(next->judging, nullptr);
    cache.take_verdict(key, *waiting->judging, found);
    EXPECT_NE(cache.analyse(study, *study.channels[0], {}, Judging::later)->judging, nullptr);
    EXPECT_EQ(cache.analyse(study, *study.channels[0])->judging, nullptr);
    EXPECT_NE(zenith()->verdict.front().outcome, Outcome::undecided);
}

TEST_F(Analysis, AnEqualFilterFromAnotherSpecHasItsOwnWorking) {
    Stage delay;
    delay.id = "d";
    delay.spec = DelaySpec{DelayUnit::samples, 101};
    study.channels[0].edit().stages.emplace_back(delay);
    EXPECT_EQ(zenith()->stage("d")->working().steps[0].numbers[1].value, 101);
    study.channels[0].edit().stages.back().edit().spec = DelaySpec{DelayUnit::ms, 2.1};
    EXPECT_NEAR(zenith()->stage("d")->working().steps[0].numbers[1].value, 100.8, 1e-9);
}

TEST_F(Analysis, TotalIsTheChainAndPredictionAddsTheMeasurement) {
    const auto analysis = zenith();
    const CurveReader measured(*measured_of(study, *study.channels[0]).value()->curve);
    ASSERT_GE(analysis->total.frequency_hz.size(), AnalysisCache::grid_points);
    for (std::size_t i = 0; i < analysis->total.frequency_hz.size(); i += 37) {
        double level = 0, phase = 0;
        for (const auto& stage : study.channels[0]->stages) {
            const ResponsePoint at =
                design(stage->spec, brief_at(48000), {})
                    ->filter.response_at(analysis->total.frequency_hz[i], 48000);
            level += at.magnitude_db;
            phase += at.phase_rad;
        }
        EXPECT_NEAR(analysis->total.response.magnitude_db[i], level, 1e-9);
        EXPECT_NEAR(analysis->total.response.phase_rad[i], phase, 1e-9);
    }
    for (std::size_t i = 0; i < analysis->predicted.frequency_hz.size(); i += 41) {
        const double hz = analysis->predicted.frequency_hz[i];
        EXPECT_TRUE(measured.covers(hz));
        EXPECT_NEAR(analysis->predicted.level_db[i], *at(hz).predicted_db, 1e-9);
    }
    EXPECT_EQ(analysis->cost.sections, 6);
}

TEST_F(Analysis, GridIsDenserAroundASharpRoot) {
    auto& spec = parametric(study, 0, 4);
    spec.frequency_hz = 1000.123;
    spec.gain_db = 20;
    spec.width = {WidthKind::q, 20000};
    const auto analysis = zenith();
    double highest = -100;
    for (const double level : analysis->total.response.magnitude_db) {
        highest = std::max(highest, level);
    }
    EXPECT_GT(highest, 19.5) << "a peak a twentieth of a hertz wide is not stepped over";
    EXPECT_TRUE(std::ranges::is_sorted(analysis->total.frequency_hz));
}

TEST_F(Analysis, DemoMeetsItsGoalInOneChannelAndNotYetInTheOther) {
    EXPECT_TRUE(is_met(zenith()->verdict));
    EXPECT_FALSE(is_met(cache.analyse(study, *study.channels[1])->verdict));
}

TEST_F(Analysis, AStageThatCannotBeDesignedMakesTheVerdictUndecided) {
    parametric(study, 0, 1).frequency_hz = 30000;
    const auto analysis = zenith();
    ASSERT_EQ(analysis->problems.size(), 1u);
    EXPECT_EQ(analysis->problems[0].place, "stages[1].frequency_hz");
    EXPECT_EQ(analysis->chain.cost().sections, 5);
    for (const Finding& finding : analysis->verdict) {
        EXPECT_EQ(finding.outcome, Outcome::undecided);
    }
    study.channels[0].edit().stages[1].edit().enabled = false;
    EXPECT_TRUE(zenith()->problems.empty()) << "switched off it does no harm";
}

TEST_F(Analysis, AMissingGoalOrCurveIsNeverAPass) {
    study.channels[0].edit().measured = {{"gone"}};
    EXPECT_FALSE(is_met(zenith()->verdict));
    study.channels[0].edit().measured = {{"zenith-a"}};
    study.channels[0].edit().goal = "gone";
    EXPECT_FALSE(is_met(zenith()->verdict));
}

TEST_F(Analysis, FollowsAChangedCurve) {
    const double before = *at(1000).measured_db;
    for (std::size_t row = 0; row < 4; ++row) {
        for (double& level : study.curves[row].edit().magnitude_db) {
            level += 3;
        }
    }
    EXPECT_NEAR(*at(1000).measured_db, before + 3, 1e-9);
}

TEST_F(Analysis, WithoutAMeasurementThePredictionIsTheChain) {
    study.channels[0].edit().measured.clear();
    const ChannelPoint point = at(15);
    EXPECT_FALSE(point.measured_db.has_value());
    EXPECT_EQ(point.predicted_db, point.chain.magnitude_db);
    EXPECT_EQ(zenith()->predicted.frequency_hz.size(), zenith()->total.frequency_hz.size());
}

TEST_F(Analysis, LowSampleRatesAndEmptyChainsWork) {
    study.sample_rate_hz = 10;
    study.channels[0].edit().stages.clear();
    study.channels[0].edit().goal.clear();
    const auto analysis = zenith();
    EXPECT_EQ(analysis->total.frequency_hz.size(), AnalysisCache::grid_points);
    EXPECT_TRUE(is_met(analysis->verdict));
}

} // namespace
} // namespace syntonon
