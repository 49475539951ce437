// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/ways/ways.h"

#include "core/study/kinds.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <set>

namespace syntonon {
namespace {

CorridorRange closed(double from_hz, double to_hz, double db) {
    return {from_hz, to_hz, db, db, true, {}};
}
CorridorRange below(double from_hz, double to_hz, double db) {
    return {from_hz, to_hz, -db, {}, true, {}};
}
Goal goal_of(Corridor corridor) {
    Goal goal;
    goal.corridor = std::move(corridor);
    return goal;
}
Goal band_pass_goal() {
    return goal_of({below(0, 5000, 50), closed(7000, 11000, 0.4), below(13000, 24000, 50)});
}
std::shared_ptr<const ResolvedGoal> worked_out(const Goal& goal) {
    return std::make_shared<const ResolvedGoal>(resolved(goal, rate, LevelOf::chain_alone));
}

std::vector<Way> all_of(const Ways& ways) {
    std::vector<Way> all;
    for (std::size_t i = 0; i < ways.size(); ++i) {
        all.push_back(ways.found(i, {}));
    }
    return all;
}
std::vector<Way> ways_to(const Goal& goal, std::optional<int> length = {}) {
    return all_of(Ways({worked_out(goal), Axis(rate), length}));
}
const Way& named(const std::vector<Way>& all, const std::string& name) {
    const auto found = std::ranges::find(all, name, &Way::name);
    EXPECT_NE(found, all.end()) << name;
    return *found;
}

// Found once: it is looked at from several sides.
const std::vector<Way>& ways_to_band_pass() {
    static const std::vector<Way> all = ways_to(band_pass_goal());
    return all;
}

// By sampling the level densely.
struct Sampled {
    double highest = -1e9, lowest = 1e9;
};
Sampled level_between(const Filter& filter, double from_hz, double to_hz) {
    const Probe probe(filter, Axis(rate));
    Sampled found;
    for (int i = 0; i <= 20000; ++i) {
        const double level = probe.level_db(from_hz + (to_hz - from_hz) * i / 20000);
        found.highest = std::max(found.highest, level);
        found.lowest = std::min(found.lowest, level);
    }
    return found;
}

TEST(Ways, EveryRowMeetsTheBandPassAndSaysWhatItIs) {
    const auto& all = ways_to_band_pass();
    int met = 0;
    for (const Way& way : all) {
        if (!way.meets_level) {
            EXPECT_FALSE(way.why.empty()) << way.name;
            continue;
        }
        ++met;
        ASSERT_TRUE(way.filter) << way.name;
        EXPECT_TRUE(way.why.empty()) << way.name << ": " << way.why;
        const Sampled pass = level_between(*way.filter, 7000, 11000);
        const Sampled low = level_between(*way.filter, 0, 5000);
        const Sampled high = level_between(*way.filter, 13000, 24000);
        EXPECT_LE(pass.highest, 0.4 + 1e-8) << way.name;
        EXPECT_GE(pass.lowest, -0.4 - 1e-8) << way.name;
        EXPECT_LE(std::max(low.highest, high.highest), -50 + 1e-8) << way.name;
        EXPECT_NEAR(*way.facts.ripple_db, pass.highest - pass.lowest, 1e-3) << way.name;
        EXPECT_NEAR(*way.facts.attenuation_db, -std::max(low.highest, high.highest), 1e-2)
            << way.name;
        EXPECT_GE(*way.facts.worst_margin_db, -1e-8) << way.name;
        EXPECT_GT(way.facts.design_s, 0) << way.name;
        EXPECT_EQ(way.facts.cost, way.filter->cost());
    }
    EXPECT_GE(met, 22); // 5 optimal FIRs, sampled, 13 windows, 4 families at least
}

TEST(Ways, OneStepShorterDoesNotMeetIt) {
    const auto& all = ways_to_band_pass();
    int looked_at = 0;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const Way& way = all[i];
        const auto* fir = way.meets_level ? std::get_if<FirSpec>(&*way.spec) : nullptr;
        if (fir == nullptr || fir->length > 400) {
            continue;
        }
        const Ways shorter({worked_out(band_pass_goal()), Axis(rate), fir->length - 1});
        EXPECT_FALSE(shorter.found(i, {}).meets_level) << way.name << " " << fir->length;
        ++looked_at;
    }
    EXPECT_GE(looked_at, 12);
}

TEST(Ways, TheOptimumIsTheShortestOfTheLinearOnes) {
    const auto& all = ways_to_band_pass();
    const int best = named(all, "Equiripple").facts.taps;
    for (const Way& way : all) {
        if (way.meets_level && way.facts.taps > 0
            && std::abs(*way.facts.delay_s * rate - way.facts.order / 2.0) < 1e-9) {
            EXPECT_GE(way.facts.taps, best) << way.name;
        }
    }
    EXPECT_LT(named(all, "Equiripple in magnitude").facts.taps, best);
}

TEST(Ways, FactsOfLinearPhaseFollowFromTheLength) {
    const auto& all = ways_to_band_pass();
    const Way& linear = named(all, "Least squares");
    EXPECT_EQ(linear.facts.order, linear.facts.taps - 1);
    EXPECT_NEAR(*linear.facts.delay_s * rate, linear.facts.order / 2.0, 1e-9);
    const Way& minimum = named(all, "Equiripple, minimum phase");
    EXPECT_EQ(minimum.facts.taps, named(all, "Equiripple").facts.taps);
    EXPECT_LT(*minimum.facts.delay_s * rate, linear.facts.order / 4.0);
    const Way& elliptic = named(all, "Elliptic");
    EXPECT_EQ(elliptic.facts.taps, 0);
    EXPECT_EQ(elliptic.facts.order, static_cast<int>(elliptic.filter->roots()->poles.size()));
    EXPECT_LT(elliptic.facts.order, named(all, "Butterworth").facts.order);
}

TEST(Ways, ALengthIsKept) {
    for (const Way& way : ways_to(band_pass_goal(), 61)) {
        if (const auto* fir = std::get_if<FirSpec>(&*way.spec); fir != nullptr && way.filter) {
            EXPECT_EQ(way.facts.taps, 61) << way.name;
            EXPECT_EQ(way.meets_level, way.why.empty()) << way.name;
        }
    }
}

TEST(Ways, OddLengthsOnlyWhereEvenOnesCannot) {
    const auto all = ways_to(goal_of({below(0, 4000, 45), closed(7000, 24000, 0.3)}));
    int odd = 0;
    for (const Way& way : all) {
        if (way.meets_level && way.facts.taps > 0) {
            EXPECT_EQ(way.facts.taps % 2, 1) << way.name;
            ++odd;
        }
    }
    EXPECT_GE(odd, 10);
}

Requirement delay_up_to(double to_hz, double samples, double tolerance) {
    return {GroupDelayRequirement{0, to_hz, Duration{samples, TimeUnit::samples},
                                  Duration{tolerance, TimeUnit::samples}}};
}

TEST(Ways, ADelayOfTheGoalIsTheLeastSquaresDelay) {
    Goal goal = goal_of({closed(0, 6000, 0.1), below(10000, 24000, 40)});
    goal.requirements.push_back(delay_up_to(5000, 10.5, 0.5));
    const auto all = ways_to(goal);
    const Way& way = named(all, "Least squares, goal's delay");
    EXPECT_TRUE(way.meets_level) << way.why;
    EXPECT_EQ(std::get<LeastSquaresFir>(std::get<FirSpec>(*way.spec).method).delay_samples, 10.5);
    EXPECT_TRUE(is_met(way.verdict));
    EXPECT_TRUE(way.meets_goal);
    const Way& equiripple = named(all, "Equiripple");
    EXPECT_TRUE(equiripple.meets_level);
    EXPECT_FALSE(equiripple.meets_goal); // its delay follows from its length
    EXPECT_NE(equiripple.why.find("group delay"), std::string::npos) << equiripple.why;
}

TEST(Ways, ADelayBelowTheMiddleIsHadByThreeMethods) {
    Goal goal = goal_of({closed(0, 4000, 1), below(9000, 24000, 30)});
    goal.requirements.push_back(delay_up_to(4000, 18.5, 0.1));
    const auto all = ways_to(goal, 55); // whose middle is 27
    for (const char* name :
         {"Least squares, goal's delay", "Sampled, goal's delay", "Window: Kaiser"}) {
        const Way& way = named(all, name);
        EXPECT_TRUE(way.meets_goal) << name << ": " << way.why;
        EXPECT_EQ(way.facts.taps, 55);
        const Probe probe(*way.filter, Axis(rate));
        for (double hz = 0; hz <= 4000; hz += 50) {
            EXPECT_NEAR(probe.group_delay_samples(hz), 18.5, 0.1) << name << " at " << hz;
        }
    }
}

TEST(Ways, InContinuousTimeThereAreRecursiveOnesAlone) {
    Goal goal = goal_of({closed(0, 5000, 0.2), below(8000, 24000, 40)});
    const Axis analog(rate, Domain::analog);
    const auto all = all_of(Ways({worked_out(goal), analog, {}}));
    ASSERT_EQ(all.size(), names_of_families().size());
    const Way& way = named(all, "Butterworth");
    ASSERT_TRUE(way.meets_goal) << way.why;
    // Butterworth's delay at 0 Hz is the sum of sin((2k - 1) pi / 2n) / wc; the mean by energy is
    // somewhat more, since it is late near the edge.
    double at_zero = 0;
    for (int k = 1; k <= way.facts.order; ++k) {
        at_zero += std::sin((2 * k - 1) * std::numbers::pi / (2 * way.facts.order))
                   / (2 * std::numbers::pi * 5500);
    }
    EXPECT_GT(*way.facts.delay_s, 0.8 * at_zero);
    EXPECT_LT(*way.facts.delay_s, 2 * at_zero);
}

TEST(Ways, ATargetThatEndsInAStopbandLeavesTheTransitionFree) {
    Goal goal = goal_of({closed(0, 5000, 0.2), below(8000, 24000, 40)});
    goal.target.points = {{20, 0, {}}, {20000, 0, {}}};
    goal.corridor[0].absolute = false;
    const Way& way = named(ways_to(goal), "Equiripple");
    EXPECT_TRUE(way.meets_goal) << way.why;
    EXPECT_LT(way.facts.taps, 50);
}

TEST(Ways, RequirementsAloneMakeBands) {
    Goal goal;
    goal.requirements = {{RippleRequirement{0, 6000, 0.5}},
                         {AttenuationRequirement{9000, 24000, 40}}};
    const auto all = ways_to(goal);
    const Way& way = named(all, "Equiripple");
    EXPECT_TRUE(way.meets_level) << way.why;
    EXPECT_FALSE(std::get<FirSpec>(*way.spec).wish.use_goal);
    EXPECT_TRUE(named(all, "Elliptic").meets_level);
    EXPECT_TRUE(named(all, "Window: Kaiser").meets_level);
}

TEST(Ways, AShapedTargetIsForFirsAlone) {
    Goal goal;
    goal.target.points = {{100, 0, {}}, {2000, 0, {}}, {8000, -9, {}}, {24000, -12, {}}};
    CorridorRange range = closed(100, 20000, 1);
    range.absolute = false;
    goal.corridor = {range};
    const auto all = ways_to(goal);
    EXPECT_TRUE(named(all, "Equiripple").meets_level) << named(all, "Equiripple").why;
    EXPECT_TRUE(named(all, "Window: Kaiser").meets_level) << named(all, "Window: Kaiser").why;
    EXPECT_FALSE(named(all, "Elliptic").filter);
    EXPECT_NE(named(all, "Elliptic").why.find("stopband"), std::string::npos);
}

TEST(Ways, WhatNoGoalAsksForIsSaidInEachRow) {
    const auto said = [](const Goal& goal, std::optional<int> length = {}) {
        std::set<std::string> words;
        for (const Way& way : ways_to(goal, length)) {
            EXPECT_FALSE(way.filter) << way.name;
            words.insert(way.why);
        }
        EXPECT_EQ(words.size(), 1u);
        return *words.begin();
    };
    EXPECT_NE(said(Goal{}).find("asks nothing of the level"), std::string::npos);
    EXPECT_NE(said(Goal{}, 61).find("asks nothing of the level"), std::string::npos);
    Goal target_alone;
    target_alone.target.points = {{100, 0, {}}, {2000, -3, {}}};
    EXPECT_NE(said(target_alone).find("good enough"), std::string::npos);
    const Goal contradictory = goal_of({closed(1000, 2000, 1), below(1500, 3000, 30)});
    EXPECT_NE(said(contradictory).find("1.5 kHz"), std::string::npos) << said(contradictory);
}

TEST(Ways, ACorridorThatJumpsIsSaid) {
    const auto all = ways_to(goal_of({closed(0, 5000, 0.5), below(5000, 24000, 40)}));
    const Way& way = named(all, "Equiripple");
    EXPECT_FALSE(way.filter);
    EXPECT_NE(way.why.find("5 kHz"), std::string::npos) << way.why;
}

TEST(Ways, StopsWhenItIsTold) {
    const Ways ways({worked_out(band_pass_goal()), Axis(rate), {}});
    Watch watch;
    watch.stop();
    for (std::size_t i = 0; i < ways.size(); ++i) {
        const Way way = ways.found(i, watch);
        EXPECT_TRUE(!way.filter || !std::holds_alternative<FirSpec>(*way.spec)) << way.name;
    }
}

} // namespace
} // namespace syntonon
