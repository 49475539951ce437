// Requirements of several channels together: complementary pairs, proven by the verdict.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/company.h"

#include "core/study/analysis.h"
#include "core/study/crossovers.h"
#include "core/study/kinds.h"
#include "core/study/problems.h"
#include "core/study/study_json.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

// Low in "a", high in "b", both with a goal of that one requirement.
Study study_with_pair(const CrossoverSpec& crossover, const RequirementSpec& requirement) {
    Study study = empty_study();
    Goal goal;
    goal.id = "pair";
    goal.requirements = {{requirement}};
    study.goals.emplace_back(goal);
    study.channels.clear();
    for (const char* id : {"a", "b", "c"}) {
        Channel channel;
        channel.id = channel.name = id;
        channel.goal = "pair";
        study.channels.emplace_back(channel);
    }
    Stage stage;
    stage.id = "x";
    stage.spec = crossover;
    study.channels[0].edit().stages.emplace_back(stage);
    put_way(study, {"a", "x"}, 2, "b");
    return study;
}

CrossoverSpec crossing(CrossoverFamily family, int order) {
    CrossoverSpec spec;
    spec.family = family;
    spec.order = order;
    return spec;
}

Finding finding_of(const Study& study, std::size_t channel = 0) {
    AnalysisCache cache;
    return cache.analyse(study, *study.channels[channel])->verdict.front();
}

TEST(Company, LinkwitzRileyPairsAreAllPassComplementaryAndNotPowerComplementary) {
    const auto spec = crossing(CrossoverFamily::linkwitz_riley, 4);
    const Finding all_pass =
        finding_of(study_with_pair(spec, AllPassComplementaryRequirement{20, 20'000, 1e-8, {}}));
    EXPECT_EQ(all_pass.outcome, Outcome::met) << all_pass.reason;
    EXPECT_LT(std::abs(*all_pass.value), 1e-9);
    const Finding power =
        finding_of(study_with_pair(spec, PowerComplementaryRequirement{20, 20'000, 1, {}}), 1);
    EXPECT_EQ(power.outcome, Outcome::not_met);
    EXPECT_NEAR(*power.value, -3.0103, 1e-4) << "a quarter and a quarter of the power";
    EXPECT_NEAR(*power.worst_hz, 2000, 2);
    const Finding delay =
        finding_of(study_with_pair(spec, DelayComplementaryRequirement{20, 20'000, 1, {}}));
    EXPECT_EQ(delay.outcome, Outcome::not_met);
}

TEST(Company, ButterworthPairsArePowerComplementaryToo) {
    const auto spec = crossing(CrossoverFamily::butterworth, 3);
    for (const std::size_t channel : {0U, 1U}) {
        const Finding power = finding_of(
            study_with_pair(spec, PowerComplementaryRequirement{20, 20'000, 1e-8, {}}), channel);
        EXPECT_EQ(power.outcome, Outcome::met) << power.reason;
        const Finding all_pass = finding_of(
            study_with_pair(spec, AllPassComplementaryRequirement{20, 20'000, 1e-8, {}}), channel);
        EXPECT_EQ(all_pass.outcome, Outcome::met) << all_pass.reason;
    }
}

TEST(Company, SubtractiveAndLinearPhasePairsAreDelayComplementary) {
    for (const auto family : {CrossoverFamily::subtractive, CrossoverFamily::linear_phase}) {
        const Finding delay = finding_of(study_with_pair(
            crossing(family, 4), DelayComplementaryRequirement{20, 20'000, 1e-7, {}}));
        EXPECT_EQ(delay.outcome, Outcome::met) << delay.reason << *delay.value;
    }
}

TEST(Company, ChannelsAreNamedWhereNoCrossoverSaysWhich) {
    AllPassComplementaryRequirement named{20, 20'000, 0.1, {{"a", "b"}}};
    Study study = study_with_pair(crossing(CrossoverFamily::linkwitz_riley, 4), named);
    EXPECT_EQ(finding_of(study).outcome, Outcome::met) << "itself does not count twice";
    EXPECT_EQ(finding_of(study, 2).outcome, Outcome::not_met) << "a wire beside both";
    named.with.ids.clear();
    study.goals[0].edit().requirements = {{named}};
    const Finding alone = finding_of(study, 2);
    EXPECT_EQ(alone.outcome, Outcome::undecided);
    EXPECT_NE(alone.reason.find("crossover"), std::string::npos);
    named.with.ids = {"nobody"};
    study.goals[0].edit().requirements = {{named}};
    EXPECT_EQ(finding_of(study).outcome, Outcome::undecided);
    EXPECT_EQ(problems_of(study)[0].place, "goals[0].requirements[0].with[0]");
}

TEST(Company, TheVerdictFollowsTheOtherChannel) {
    Study study = study_with_pair(crossing(CrossoverFamily::linkwitz_riley, 4),
                                  AllPassComplementaryRequirement{});
    AnalysisCache cache;
    EXPECT_EQ(cache.analyse(study, *study.channels[0])->verdict[0].outcome, Outcome::met);
    const auto same = cache.analyse(study, *study.channels[0]);
    EXPECT_EQ(cache.analyse(study, *study.channels[0]), same) << "kept while nothing changes";
    Stage gain;
    gain.id = "g";
    gain.spec = GainSpec{3, false, {}};
    study.channels[1].edit().stages.emplace_back(gain);
    EXPECT_EQ(cache.analyse(study, *study.channels[0])->verdict[0].outcome, Outcome::not_met);
    study.channels[1].edit().stages.back().edit().enabled = false;
    EXPECT_EQ(cache.analyse(study, *study.channels[0])->verdict[0].outcome, Outcome::met);
}

TEST(Company, RequirementsKeepTheirChannelsInTheFile) {
    const Study study = study_with_pair(
        CrossoverSpec(), DelayComplementaryRequirement{30, 16'000, 0.5, {{"b", "c"}}});
    const auto again = study_from_json(json_from_study(study));
    ASSERT_TRUE(again);
    EXPECT_EQ(again->study, study);
    EXPECT_EQ(title_of(study.goals[0]->requirements[0]), "delay complementary 0.03–16 kHz");
}

} // namespace
} // namespace syntonon
