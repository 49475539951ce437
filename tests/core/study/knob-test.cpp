// Any number of any stage on a knob, and where it turns unstable.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/knob.h"

#include "core/math/roots_at_once.h"
#include "core/study/kinds.h"
#include "core/study/stability_edges.h"

#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

SharedValue<Stage> knob_stage(const char* id, StageSpec spec) {
    Stage stage;
    stage.id = id;
    stage.spec = std::move(spec);
    return SharedValue<Stage>(std::move(stage));
}

TEST(Knob, IsEveryNumberOfAStage) {
    const StageSpec peak = parametric(ParametricShape::peak, 1000, 3, 2);
    std::vector<std::string> keys;
    for (const Knob& knob : knobs_of(peak)) {
        keys.push_back(knob.key);
    }
    EXPECT_EQ(keys, (std::vector<std::string>{"frequency_hz", "gain_db", "q"}));
    StageSpec recursion = RecursionSpec{{1, 2}, {1, -0.5}, {}};
    ASSERT_TRUE(turn(recursion, "a[1]", -0.25));
    EXPECT_EQ(recursion, StageSpec(RecursionSpec{{1, 2}, {1, -0.25}, {}}));
    EXPECT_EQ(knob_of(recursion, "b[1]")->value, 2);
    EXPECT_FALSE(turn(recursion, "b[2]", 1));
    EXPECT_FALSE(turn(recursion, "gain_db", 1));
    StageSpec taps = TapsSpec{std::make_shared<const std::vector<double>>(std::vector{1.0, 2.0})};
    ASSERT_TRUE(turn(taps, "taps[0]", 5));
    EXPECT_EQ(knob_of(taps, "taps[0]")->value, 5);
    StageSpec split = SplitSpec{};
    ASSERT_TRUE(turn(split, "branches[1]", -0.5));
    EXPECT_EQ(std::get<SplitSpec>(*split).branches[1].factor, -0.5);
    StageSpec roots = RootsSpec{{}, {{0.5, 0.5}, {0.5, -0.5}}, 1};
    ASSERT_TRUE(turn(roots, "pole_radius[0]", 0.9));
    const auto& poles = std::get<RootsSpec>(*roots).poles;
    EXPECT_NEAR(std::abs(poles[0]), 0.9, 1e-15);
    EXPECT_EQ(poles[1], std::conj(poles[0]));
    EXPECT_EQ(knob_of(roots, "pole_angle_deg[0]")->caption, "Angle of pole 1");
    EXPECT_EQ(usual_range(*knob_of(roots, "pole_radius[0]")), (KnobRange{0, 1.2}));
}

TEST(Knob, BeginsWithARangeAroundItsValue) {
    const StageSpec peak = parametric(ParametricShape::peak, 1000, 3, 2);
    const auto frequency = usual_range(*knob_of(peak, "frequency_hz"));
    EXPECT_EQ(frequency.low, 500);
    EXPECT_EQ(frequency.high, 2000);
    const auto gain = usual_range(*knob_of(peak, "gain_db"));
    EXPECT_LT(gain.low, 3);
    EXPECT_GT(gain.high, 3);
}

// y[n] = x[n] - a1 y[n-1] - a2 y[n-2] is stable inside the triangle |a2| < 1, |a1| < 1 + a2.
TEST(StabilityEdges, OfASecondOrderRecursionAreItsTriangle) {
    const Chain chain{knob_stage("r", RecursionSpec{{1}, {1, -1.2, 0.8}, {}})};
    const auto a1 =
        stability_edges(margin_of_knob(chain, "r", "a[1]", brief_at(48000)), {-3, 3}, false);
    ASSERT_EQ(a1.size(), 2u);
    EXPECT_NEAR(a1[0].value, -1.8, 1e-9);
    EXPECT_FALSE(a1[0].stable_below);
    EXPECT_NEAR(a1[1].value, 1.8, 1e-9);
    const auto a2 =
        stability_edges(margin_of_knob(chain, "r", "a[2]", brief_at(48000)), {-3, 3}, false);
    ASSERT_EQ(a2.size(), 2u);
    EXPECT_NEAR(a2[0].value, 0.2, 1e-9);
    EXPECT_NEAR(a2[1].value, 1, 1e-9);
}

TEST(StabilityEdges, OfALoopIsItsGainMargin) {
    LoopSpec loop;
    loop.feedback.factor = 0.5;
    loop.feedback.stages = {knob_stage("d", DelaySpec{DelayUnit::samples, 100})};
    const Chain chain{knob_stage("l", loop)};
    const auto found = stability_edges(
        margin_of_knob(chain, "l", "feedback.factor", brief_at(48000)), {-1.5, 1.5}, false);
    ASSERT_EQ(found.size(), 2u);
    EXPECT_NEAR(found[0].value, -1, 1e-9);
    EXPECT_NEAR(found[1].value, 1, 1e-9);
}

TEST(StabilityEdges, WhatIsAlwaysStableHasNone) {
    const Chain chain{knob_stage("p", parametric(ParametricShape::peak, 1000, 3, 2))};
    EXPECT_TRUE(
        stability_edges(margin_of_knob(chain, "p", "gain_db", brief_at(48000)), {-24, 24}, false)
            .empty());
    EXPECT_TRUE(
        stability_edges(margin_of_knob(chain, "gone", "q", brief_at(48000)), {1, 2}, true).empty());
}

// Sweeps of one coefficient of stable recursions of orders 2 to 8: every edge lies between a stable
// and an unstable place a billionth apart, and a finer look, place by place, finds no other.
TEST(StabilityEdges, OfAThousandRandomSweepsAreWhatBisectionFinds) {
    std::mt19937 random(77);
    std::uniform_real_distribution<double> unit(0, 1);
    int edges = 0, missed = 0;
    for (int sweep = 0; sweep < 1000; ++sweep) {
        std::vector<double> a{1};
        const int order = 2 + sweep % 7;
        for (int i = 0; i < order / 2; ++i) {
            const double r = 0.95 * std::sqrt(unit(random)), w = 3.14 * unit(random);
            const std::array<double, 3> pair{1, -2 * r * std::cos(w), r * r};
            std::vector<double> next(a.size() + 2, 0.0);
            for (std::size_t m = 0; m < a.size(); ++m) {
                for (std::size_t n = 0; n < 3; ++n) {
                    next[m + n] += a[m] * pair[n];
                }
            }
            a = next;
        }
        const std::size_t which = 1 + static_cast<std::size_t>(unit(random) * double(a.size() - 1));
        // The margin by the step-down recursion: stable as long as every reflection is below 1
        // (Oppenheim and Schafer, 3rd ed., section 11.4).
        const MarginAt margin = [&](double value) -> std::optional<double> {
            std::vector<double> row = a;
            row[which] = value;
            double least = 1;
            while (row.size() > 1) {
                const double k = row.back();
                least = std::min(least, 1 - std::abs(k));
                if (std::abs(k) >= 1) {
                    return 1 - std::abs(k);
                }
                std::vector<double> lower(row.size() - 1);
                for (std::size_t i = 0; i < lower.size(); ++i) {
                    lower[i] = (row[i] - k * row[row.size() - 1 - i]) / (1 - k * k);
                }
                row = lower;
            }
            return least;
        };
        const KnobRange range{a[which] - 2 - unit(random), a[which] + 2 + unit(random)};
        const MarginAt by_roots = [&](double value) -> std::optional<double> {
            std::vector<double> row = a;
            row[which] = value;
            double largest = 0;
            const auto roots = polynomial_roots(row);
            if (!roots) {
                return std::nullopt;
            }
            for (const auto& root : *roots) {
                largest = std::max(largest, std::abs(root));
            }
            return 1 - largest;
        };
        const auto found = stability_edges(by_roots, range, false);
        for (const StabilityEdge& edge : found) {
            const double apart = 1e-9 * std::max(std::abs(edge.value), 1e-3);
            EXPECT_EQ(*margin(edge.value - apart) > 0, edge.stable_below) << sweep;
            EXPECT_EQ(*margin(edge.value + apart) > 0, !edge.stable_below) << sweep;
            ++edges;
        }
        std::size_t changes = 0;
        constexpr int looks = 4000;
        bool was = *margin(range.low) > 0;
        for (int i = 1; i <= looks; ++i) {
            const bool is = *margin(range.low + (range.high - range.low) * i / looks) > 0;
            changes += is != was ? 1 : 0;
            was = is;
        }
        missed += changes > found.size() ? 1 : 0;
    }
    EXPECT_GT(edges, 1500);
    EXPECT_LE(missed, 2) << "windows narrower than a 64th of the range";
    RecordProperty("edges", edges);
    RecordProperty("missed", missed);
}

} // namespace
} // namespace syntonon
