// What is said to hold holds, and what nearly holds is not said.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/identities.h"

#include "core/design/parametric.h"
#include "core/filter/form.h"
#include "core/study/analysis.h"
#include "core/study/kinds.h"
#include "core/study/starting_points.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <algorithm>
#include <array>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Filter half_and(double factor, const Filter& other) {
    return Filter(ParallelSum{{{0.5, Filter()}, {factor, other}}});
}

TEST(Identities, AllPassesAreToldFromNearOnes) {
    const Filter all_pass = section(ParametricShape::all_pass, 900, 0, 0.7);
    EXPECT_TRUE(is_all_pass(all_pass));
    EXPECT_TRUE(is_all_pass(repeated(all_pass, 100)));
    EXPECT_TRUE(is_all_pass(Filter(Delay{3})));
    EXPECT_FALSE(is_all_pass(Filter())) << "a wire is no news";
    EXPECT_FALSE(is_all_pass(Filter(Gain{2})));
    EXPECT_FALSE(is_all_pass(section(ParametricShape::peak, 900, 1e-5, 0.7)));
    // Low- and high-pass of second order at Q 0.5 (Linkwitz-Riley), the one turned: an all-pass.
    const Filter crossed(ParallelSum{{{1, section(ParametricShape::low_pass, 1000, 0, 0.5)},
                                      {-1, section(ParametricShape::high_pass, 1000, 0, 0.5)}}});
    EXPECT_TRUE(is_all_pass(crossed));
    const Filter missed(ParallelSum{{{1, section(ParametricShape::low_pass, 1000, 0, 0.5)},
                                     {-1, section(ParametricShape::high_pass, 1000.01, 0, 0.5)}}});
    EXPECT_FALSE(is_all_pass(missed));
}

TEST(Identities, GainsAndDelaysAreRecognisedAsSuch) {
    const Filter all_pass = section(ParametricShape::all_pass, 300, 0, 1);
    const Filter rest(ParallelSum{{{1, half_and(0.5, all_pass)}, {1, half_and(-0.5, all_pass)}}});
    EXPECT_EQ(pure_delay_samples(rest), 0.0) << "the two halves of one";
    EXPECT_TRUE(is_constant(rest));
    const Filter late(ParallelSum{{{0.25, Filter(Delay{7})}, {0.75, Filter(Delay{7})}}});
    EXPECT_EQ(pure_delay_samples(late), 7.0);
    EXPECT_FALSE(pure_delay_samples(all_pass));
    EXPECT_FALSE(pure_delay_samples(Filter(Gain{0.5})));
    EXPECT_TRUE(is_constant(Filter(Gain{0.5})));
}

TEST(Identities, MinimumPhaseIsReadFromTheRoots) {
    EXPECT_TRUE(is_minimum_phase(section(ParametricShape::peak, 900, -9, 2)));
    EXPECT_FALSE(is_minimum_phase(Filter(Taps({0.5, 1})))) << "its zero lies at -2";
    EXPECT_FALSE(is_minimum_phase(Filter(Delay{1})));
    EXPECT_FALSE(is_minimum_phase(section(ParametricShape::notch, 900, 0, 2)))
        << "zeros on the circle have no inverse";
    EXPECT_TRUE(is_minimum_phase(closed_loop({Filter(), 0.9, Filter(Delay{20})}).value()));
    EXPECT_FALSE(is_minimum_phase(closed_loop({Filter(), 1.1, Filter(Delay{20})}).value()))
        << "unstable";
    EXPECT_FALSE(is_minimum_phase(Filter(ParallelSum{{{1, Filter()}, {1.1, Filter(Delay{20})}}})));
}

TEST(Identities, InversesAndComplementsAreFound) {
    const Filter up = section(ParametricShape::peak, 900, 6, 2);
    EXPECT_TRUE(are_inverse(up, section(ParametricShape::peak, 900, -6, 2)));
    EXPECT_FALSE(are_inverse(up, section(ParametricShape::peak, 900, -6.0001, 2)));
    EXPECT_FALSE(are_inverse(Filter(Gain{2}), Filter(Gain{0.5})));
    const Filter all_pass = section(ParametricShape::all_pass, 300, 0, 1);
    EXPECT_TRUE(are_power_complementary(half_and(0.5, all_pass), half_and(-0.5, all_pass)));
    EXPECT_FALSE(are_power_complementary(up, Filter()));
}

// The starting points say of themselves what they are.
TEST(Identities, HoldForTheStartingPoints) {
    const auto said = [](const std::string& title) {
        const auto points = starting_points();
        const auto point = std::ranges::find(points, title, &StartingPoint::title);
        EXPECT_NE(point, points.end()) << title;
        Study study;
        study.sample_rate_hz = rate;
        Channel channel;
        channel.id = "c";
        for (const auto& each : point->stages) {
            Stage stage = *each;
            give_fresh_ids(stage, channel.stages);
            channel.stages.emplace_back(std::move(stage));
        }
        study.channels.emplace_back(channel);
        AnalysisCache cache;
        const auto analysis = cache.analyse(study, *study.channels[0]);
        std::string all;
        for (const Identity& one :
             identities_of(channel.stages, analysis->chain, [&](const Stage& s) {
                 const StageAnalysis* found = analysis->stage(s.id);
                 return found != nullptr && found->filter ? std::optional(*found->filter)
                                                          : std::nullopt;
             })) {
            all += one.words + "\n";
        }
        return all;
    };
    EXPECT_NE(said("All-pass from low and high").find("is all-pass"), std::string::npos);
    EXPECT_NE(said("Complementary pair").find("sums to one"), std::string::npos);
    EXPECT_NE(said("Echo").find("minimum phase"), 0u) << "14400 samples are too long to tell";
    EXPECT_NE(said("Comb, fed back").find("minimum phase"), std::string::npos);
}

} // namespace
} // namespace syntonon
