// Analog channels: briefs, verdicts, mapping into sampled ones, handing out.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/analog_side.h"

#include "core/base/json_view.h"
#include "core/base/units.h"
#include "core/exchange/analog_filter.h"
#include "core/exchange/coefficients.h"
#include "core/filter/analog_time.h"
#include "core/study/analysis.h"
#include "core/study/kinds.h"
#include "core/study/study_json.h"
#include "tests/support/json.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Stage stage_of(const char* id, StageSpec spec) {
    Stage stage;
    stage.id = id;
    stage.spec = std::move(spec);
    return stage;
}

ClassicalSpec low_pass(ClassicalFamily family, int order, double hz) {
    ClassicalSpec spec;
    spec.family = family;
    spec.order = order;
    spec.edges_hz[0] = hz;
    return spec;
}

Study analog_study(std::vector<StageSpec> specs) {
    Study study;
    Channel channel;
    channel.id = "a";
    channel.name = "A";
    channel.domain = Domain::analog;
    for (StageSpec& spec : specs) {
        channel.stages.emplace_back(
            stage_of(("s" + std::to_string(channel.stages.size() + 1)).c_str(), std::move(spec)));
    }
    study.channels.emplace_back(std::move(channel));
    return study;
}

std::shared_ptr<const ChannelAnalysis> analysed(const Study& study, std::size_t channel = 0) {
    AnalysisCache cache;
    return cache.analyse(study, *study.channels[channel]);
}

TEST(AnalogChannel, IsKeptInItsFile) {
    Study study = analog_study({low_pass(ClassicalFamily::bessel, 3, 1000)});
    study.channels[0].edit().mapped_from = "x";
    const auto again = study_from_json(json_from_study(study));
    ASSERT_TRUE(again) << to_text(again.error());
    EXPECT_EQ(again->study, study);
    EXPECT_TRUE(again->warnings.empty());
}

TEST(AnalogChannel, HasAnAxisWithoutNyquist) {
    const Study study = analog_study({StageSpec(parametric(ParametricShape::peak, 200000, 6, 3))});
    const auto analysis = analysed(study);
    EXPECT_TRUE(analysis->problems.empty());
    EXPECT_TRUE(analysis->chain.is_analog());
    EXPECT_GT(analysis->grid->frequency_hz().back(), 100000);
    EXPECT_NEAR(point_at(*analysis, 200000).chain.magnitude_db, 6, 1e-9);
    EXPECT_EQ(analysis->cost.multiplies, 0);
}

TEST(AnalogChannel, SaysWhyFirAndDelayCannotBe) {
    TapsSpec taps;
    taps.taps = std::make_shared<const std::vector<double>>(std::vector<double>{0.5, 0.5});
    for (const StageSpec& spec : {StageSpec(taps), StageSpec(DelaySpec{DelayUnit::samples, 3})}) {
        const auto analysis = analysed(analog_study({spec}));
        ASSERT_EQ(analysis->problems.size(), 1);
        EXPECT_EQ(analysis->problems[0].place, "stages[0]");
        EXPECT_NE(analysis->problems[0].reason.find("continuous time"), std::string::npos);
    }
}

TEST(AnalogChannel, NetworksLiveThere) {
    SplitSpec split;
    split.branches.resize(2);
    split.branches[0].stages.emplace_back(
        stage_of("b1", low_pass(ClassicalFamily::linkwitz_riley, 4, 1000)));
    ClassicalSpec high = low_pass(ClassicalFamily::linkwitz_riley, 4, 1000);
    high.band = ClassicalBand::high_pass;
    split.branches[1].stages.emplace_back(stage_of("b2", high));
    const auto analysis = analysed(analog_study({split, GainSpec{6, false, {}}}));
    ASSERT_TRUE(analysis->problems.empty()) << to_text(analysis->problems.front());
    // A Linkwitz-Riley crossover of order 4 sums to an all-pass.
    for (const double hz : {20.0, 1000.0, 300000.0}) {
        EXPECT_NEAR(point_at(*analysis, hz).chain.magnitude_db, 6, 1e-9);
    }
    EXPECT_EQ(analysis->verdict.back().outcome, Outcome::met);
}

Goal goal_with(std::vector<RequirementSpec> specs) {
    Goal goal;
    goal.id = "g";
    for (RequirementSpec& spec : specs) {
        goal.requirements.push_back(Requirement{std::move(spec)});
    }
    return goal;
}

TEST(AnalogChannel, IsJudgedByWhatHasAMeaningThere) {
    Study study = analog_study({low_pass(ClassicalFamily::butterworth, 2, 1000)});
    study.goals.emplace_back(
        goal_with({AttenuationRequirement{100000, greatest_analog_hz, 79.9},
                   SettlingTimeRequirement{5, Duration{1, TimeUnit::ms}}, OvershootRequirement{4.4},
                   LatencyRequirement{Duration{10, TimeUnit::samples}}, TapsRequirement{5},
                   PeakGainRequirement{0.001},
                   GroupDelayRequirement{0, 10, Duration{0.2251, TimeUnit::ms},
                                         Duration{0.001, TimeUnit::ms}}}));
    study.channels[0].edit().goal = "g";
    const auto verdict = analysed(study)->verdict;
    ASSERT_EQ(verdict.size(), 8);
    EXPECT_EQ(verdict[0].outcome, Outcome::met);
    EXPECT_NEAR(*verdict[0].value, 80, 1e-3);
    EXPECT_EQ(verdict[1].outcome, Outcome::met);
    // exp(-pi) for Q = 1/sqrt(2): 4.3214 %
    EXPECT_EQ(verdict[2].outcome, Outcome::met);
    EXPECT_NEAR(*verdict[2].value, 100 * std::exp(-pi), 2e-3);
    EXPECT_EQ(verdict[3].outcome, Outcome::undecided);
    EXPECT_EQ(verdict[4].outcome, Outcome::undecided);
    EXPECT_EQ(verdict[5].outcome, Outcome::met);
    EXPECT_EQ(verdict[6].outcome, Outcome::met) << *verdict[6].value;
    EXPECT_EQ(verdict[7].outcome, Outcome::met);
}

// The figure of the order formula, proven by the verdict in both domains.
TEST(AnalogChannel, AButterworthOfOrder14MeetsItsTolerancesInBothDomains) {
    ClassicalSpec spec;
    spec.by_tolerances = true;
    spec.tolerances.pass_edges_hz[0] = 1000;
    spec.tolerances.stop_edges_hz[0] = 1600;
    spec.tolerances.pass_as_ratio = spec.tolerances.stop_as_ratio = true;
    spec.tolerances.pass_ratio = {0.99, 1};
    spec.tolerances.stop_ratio = 0.01;
    for (const Domain domain : {Domain::analog, Domain::sampled}) {
        Study study = analog_study({spec});
        study.channels[0].edit().domain = domain;
        study.goals.emplace_back(
            goal_with({RippleRequirement{0, 1000, -db_from_ratio(0.99) + 1e-9},
                       AttenuationRequirement{1600, domain == Domain::analog ? 1e9 : 24000, 40}}));
        study.channels[0].edit().goal = "g";
        const auto analysis = analysed(study);
        EXPECT_TRUE(is_met(analysis->verdict));
        EXPECT_EQ(analysis->cost.sections, 7);
    }
}

TEST(MappedChannel, BilinearKeepsItsStages) {
    Study study = analog_study({low_pass(ClassicalFamily::elliptic, 5, 3000),
                                StageSpec(parametric(ParametricShape::peak, 500, 4, 2))});
    Briefs briefs;
    const auto made = mapped_channel(study, *study.channels[0], PlaneMapping::bilinear, briefs);
    ASSERT_TRUE(made) << to_text(made.error());
    EXPECT_EQ(made->domain, Domain::sampled);
    EXPECT_EQ(made->mapped_from, "a");
    EXPECT_EQ(made->stages.size(), 2);
    study.channels.emplace_back(*made);
    EXPECT_NEAR(point_at(*analysed(study, 1), 3000).chain.magnitude_db,
                point_at(*analysed(study), 3000).chain.magnitude_db, 0.05);
}

TEST(MappedChannel, BilinearKeepsTheOrderThatTolerancesTook) {
    ClassicalSpec spec;
    spec.family = ClassicalFamily::elliptic;
    spec.by_tolerances = true;
    spec.tolerances.pass_edges_hz[0] = 16000;
    spec.tolerances.stop_edges_hz[0] = 23000;
    Study study = analog_study({spec});
    Briefs briefs;
    const auto made = mapped_channel(study, *study.channels[0], PlaneMapping::bilinear, briefs);
    ASSERT_TRUE(made);
    study.channels.emplace_back(*made);
    EXPECT_EQ(analysed(study, 1)->chain.roots()->poles.size(),
              analysed(study)->chain.roots()->poles.size());
    EXPECT_NEAR(point_at(*analysed(study, 1), 16000).chain.magnitude_db, -0.5, 1e-9);
}

TEST(MappedChannel, ImpulseInvarianceSamplesTheWholeChainsResponse) {
    Study study = analog_study({low_pass(ClassicalFamily::butterworth, 4, 2000),
                                StageSpec(parametric(ParametricShape::peak, 700, 6, 3)),
                                GainSpec{0, true, {}}});
    Briefs briefs;
    const auto made =
        mapped_channel(study, *study.channels[0], PlaneMapping::impulse_invariant, briefs);
    ASSERT_TRUE(made) << to_text(made.error());
    study.channels.emplace_back(*made);
    const auto sampled = analysed(study, 1);
    ASSERT_TRUE(sampled->problems.empty()) << to_text(sampled->problems.front());
    const auto h = sampled->chain.impulse_response(80);
    const auto wanted = analog_time_response(analysed(study)->chain, 1 / rate, 80);
    ASSERT_TRUE(wanted);
    for (std::size_t n = 0; n < h.size(); ++n) {
        EXPECT_NEAR(h[n], wanted->impulse[n] / rate, 1e-11) << n;
    }
}

TEST(MappedChannel, MatchedKeepsTheGreatestLevel) {
    Study study = analog_study({low_pass(ClassicalFamily::chebyshev, 3, 2000)});
    Briefs briefs;
    const auto made = mapped_channel(study, *study.channels[0], PlaneMapping::matched, briefs);
    ASSERT_TRUE(made) << to_text(made.error());
    study.channels.emplace_back(*made);
    EXPECT_NEAR(point_at(*analysed(study, 1), 100).chain.magnitude_db,
                point_at(*analysed(study), 100).chain.magnitude_db, 0.02);
}

TEST(MappedChannel, RefusesWhatCannotBeMapped) {
    Study study = analog_study({StageSpec(parametric(ParametricShape::peak, 500, 4, 2))});
    Briefs briefs;
    EXPECT_FALSE(
        mapped_channel(study, *study.channels[0], PlaneMapping::impulse_invariant, briefs));
    study.channels[0].edit().domain = Domain::sampled;
    EXPECT_FALSE(mapped_channel(study, *study.channels[0], PlaneMapping::bilinear, briefs));
}

TEST(AnalogSide, StandsBehindASampledChain) {
    Study study = analog_study({low_pass(ClassicalFamily::butterworth, 3, 9000)});
    study.channels[0].edit().domain = Domain::sampled;
    DesignStore store(DesignStore::usual_bytes, analog_where_possible());
    const DesignedChain chain =
        design_chain(study.channels[0]->stages, ChainBrief(brief_at(rate)), store);
    ASSERT_TRUE(chain.filter.is_analog());
    EXPECT_NEAR(chain.filter.response_at(18000, rate).magnitude_db,
                -10 * std::log10(1 + std::pow(2.0, 6)), 1e-9);
}

TEST(AnalogFilterText, SaysSectionsPolynomialsAndRoots) {
    ClassicalSpec spec = low_pass(ClassicalFamily::butterworth, 3, 1000);
    const Study study = analog_study({spec});
    Briefs briefs;
    const auto found = analog_filter_of(study, *study.channels[0], briefs);
    ASSERT_TRUE(found) << to_text(found.error());
    // s^3 + 2 s^2 + 2 s + 1, its edge at the unit of 1 kHz.
    const std::vector<double> wanted{1, 2, 2, 1};
    ASSERT_EQ(found->denominator.size(), 4);
    for (std::size_t k = 0; k < 4; ++k) {
        EXPECT_NEAR(found->denominator[k], wanted[k], 1e-13);
    }
    ASSERT_EQ(found->numerator.size(), 1);
    EXPECT_NEAR(found->numerator[0], 1, 1e-13);
    ASSERT_EQ(found->cascade->sections.size(), 2);
    const NaturalFrequency second = natural_frequency_of(found->cascade->sections[1]);
    EXPECT_NEAR(second.rad_per_s, rad_per_s_from_hz(1000), 1e-9);
    EXPECT_NEAR(*second.q, 1, 1e-13);
    EXPECT_FALSE(natural_frequency_of(found->cascade->sections[0]).q);
    EXPECT_NE(analog_text(*found, AnalogFormat::text).find("Q 1"), std::string::npos);
    EXPECT_NE(analog_text(*found, AnalogFormat::csv).find("section_q,2,"), std::string::npos);
    const std::string json = analog_text(*found, AnalogFormat::json);
    EXPECT_NE(json.find("\"w0_rad_per_s\": "), std::string::npos);
    EXPECT_TRUE(checked_json(json)) << json;
    EXPECT_FALSE(coefficients_of(study, *study.channels[0], briefs)) << "not for a processor";
}

TEST(AnalogFilterText, KeepsANameOnItsLine) {
    Study study = analog_study({low_pass(ClassicalFamily::butterworth, 1, 1000)});
    study.channels[0].edit().name = "A\npole 1 + j 2";
    Briefs briefs;
    const auto found = analog_filter_of(study, *study.channels[0], briefs);
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_EQ(analog_text(*found, AnalogFormat::text).find("\npole 1"), std::string::npos);
}

} // namespace
} // namespace syntonon
