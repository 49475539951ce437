// Roots moved by hand.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/root_edits.h"

#include "core/base/units.h"
#include "core/design/root_numbers.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double snap = 0.01;
const RootsSpec two_pairs{{{0.5, 0.5}, {0.5, -0.5}}, {{0.6, 0.7}, {0.6, -0.7}, {0.9, 0}}, 2};

double level_at(const RootsSpec& spec, double w) {
    Roots roots{spec.zeros, spec.poles, spec.gain, 0};
    return std::abs(value_of(roots, std::polar(1.0, w)).h);
}

bool is_whole(const RootsSpec& spec) {
    for (const auto* list : {&spec.zeros, &spec.poles}) {
        for (const Complex& root : *list) {
            if (std::ranges::count(*list, root) != std::ranges::count(*list, std::conj(root))) {
                return false;
            }
        }
    }
    return true;
}

TEST(RootEdits, APairMovesTogether) {
    for (const std::size_t index : {0u, 1u}) { // by its upper or lower one
        const auto made = moved(two_pairs, {true, index}, {0.3, index == 0 ? 0.8 : -0.8}, snap);
        EXPECT_EQ(made.poles, (std::vector<Complex>{{0.3, 0.8}, {0.3, -0.8}, {0.9, 0}}));
    }
}

TEST(RootEdits, APairSplitsOnTheAxisAndJoinsAgain) {
    const auto split = moved(two_pairs, {true, 0}, {0.4, 0.005}, snap);
    EXPECT_EQ(split.poles, (std::vector<Complex>{0.4, 0.4, 0.9}));
    // One of the two alone stays on the axis.
    const auto apart = moved(split, {true, 0}, {0.2, 0.001}, snap);
    EXPECT_EQ(apart.poles, (std::vector<Complex>{0.2, 0.4, 0.9}));
    EXPECT_EQ(moved(apart, {true, 0}, {0.1, 0.5}, snap).poles,
              (std::vector<Complex>{0.1, 0.4, 0.9}));
    // Where it meets the other, it leaves with it.
    const auto joined = moved(apart, {true, 0}, {0.395, 0.3}, snap);
    EXPECT_EQ(joined.poles, (std::vector<Complex>{{0.395, 0.3}, {0.395, -0.3}, 0.9}));
    EXPECT_TRUE(is_whole(joined));
}

TEST(RootEdits, OfEqualPairsOneMoves) {
    const RootsSpec three{{}, {{0.5, 0.5}, {0.5, -0.5}, {0.5, 0.5}, {0.5, -0.5}}, 1};
    const auto made = moved(three, {true, 2}, {0.1, 0.2}, snap);
    EXPECT_EQ(std::ranges::count(made.poles, Complex(0.5, 0.5)), 1);
    EXPECT_EQ(std::ranges::count(made.poles, Complex(0.1, 0.2)), 1);
    EXPECT_TRUE(is_whole(made));
}

TEST(RootEdits, AGroupTurnsAndStretches) {
    const std::vector<RootPlace> all{{true, 0}, {false, 0}, {true, 2}};
    const Complex by = std::polar(0.9, 0.1);
    const auto made = moved(two_pairs, all, {true, 0}, two_pairs.poles[0] * by, snap);
    EXPECT_LT(std::abs(made.zeros[0] - two_pairs.zeros[0] * by), 1e-15);
    EXPECT_LT(std::abs(made.poles[0] - two_pairs.poles[0] * by), 1e-15);
    EXPECT_NEAR(made.poles[2].real(), 0.81, 1e-15);
    EXPECT_TRUE(is_whole(made));
    // Held below the axis, the pair goes the same way.
    const auto below = moved(two_pairs, all, {true, 1}, two_pairs.poles[1] * std::conj(by), snap);
    EXPECT_LT(std::abs(below.zeros[0] - made.zeros[0]), 1e-15);
}

TEST(RootEdits, MirroringKeepsTheLevel) {
    const std::vector<RootPlace> all{{true, 0}, {false, 1}, {true, 2}};
    const auto made = mirrored(two_pairs, all, Domain::sampled);
    EXPECT_LT(std::abs(made.poles[0] - 1.0 / std::conj(two_pairs.poles[0])), 1e-15);
    for (const double w : {0.0, 0.3, 1.0, 2.0, pi}) {
        EXPECT_NEAR(level_at(made, w) / level_at(two_pairs, w), 1, 1e-13);
    }
    EXPECT_TRUE(is_whole(made));
    const RootsSpec analog{{{-5, 0}}, {{-1, 7}, {-1, -7}}, 1};
    const auto turned = mirrored(analog, std::vector<RootPlace>{{false, 0}}, Domain::analog);
    EXPECT_EQ(turned.zeros[0], Complex(5, 0));
    EXPECT_EQ(turned.gain, 1);
}

TEST(RootEdits, ReflectsOnlyWhatIsUnstable) {
    const RootsSpec unstable{{{1.5, 0}}, {{0.9, 0.9}, {0.9, -0.9}, {0.5, 0}}, 1};
    const auto made = reflected_inside(unstable, Domain::sampled);
    EXPECT_LT(std::abs(made.poles[0]), 1);
    EXPECT_EQ(made.zeros, unstable.zeros);
    EXPECT_EQ(made.poles[2], unstable.poles[2]);
    EXPECT_NEAR(level_at(made, 0.4), level_at(unstable, 0.4), 1e-13);
}

TEST(RootEdits, AddCancelDuplicateDelete) {
    const auto more = with_added(two_pairs, false, {0.2, -0.3});
    EXPECT_EQ(more.zeros.size(), 4u);
    EXPECT_EQ(more.zeros[2], Complex(0.2, 0.3));
    const auto cancel = cancelled(two_pairs, std::vector<RootPlace>{{true, 1}});
    EXPECT_EQ(std::ranges::count(cancel.zeros, two_pairs.poles[0]), 1);
    const auto twice = duplicated(two_pairs, std::vector<RootPlace>{{true, 0}, {true, 1}});
    EXPECT_EQ(twice.poles.size(), 5u) << "a pair by both of its two is one pair";
    const auto less = without(two_pairs, std::vector<RootPlace>{{true, 1}, {false, 0}});
    EXPECT_EQ(less.poles, std::vector<Complex>{0.9});
    EXPECT_TRUE(less.zeros.empty());
    const auto on = put_on_circle(two_pairs, std::vector<RootPlace>{{false, 0}}, Domain::sampled);
    EXPECT_NEAR(std::abs(on.zeros[0]), 1, 1e-15);
    EXPECT_NEAR(std::arg(on.zeros[0]), pi / 4, 1e-15);
    EXPECT_TRUE(is_whole(on));
}

TEST(RootNumbers, AreOneAnothersInverse) {
    for (const Axis& axis : {Axis(48000), Axis(48000, Domain::analog)}) {
        const Complex root = axis.is_analog() ? Complex(-300, 6000) : std::polar(0.98, 0.2);
        for (const RootNumber which : all_root_numbers) {
            const double value = number_of(root, which, axis);
            EXPECT_LT(std::abs(with_number(root, which, value, axis) - root),
                      1e-12 * std::abs(root));
            const Complex other = with_number(root, which, 0.9 * value, axis);
            EXPECT_NEAR(number_of(other, which, axis) / (0.9 * value), 1, 1e-12);
        }
    }
}

TEST(RootNumbers, SayWhatATextbookSays) {
    // A pole of radius e^(-pi B / fs) rings for ln(1000) / (pi B).
    const Complex pole =
        std::polar(std::exp(-pi * 100 / 48000), rad_per_sample_from_hz(1000, 48000));
    EXPECT_NEAR(number_of(pole, RootNumber::bandwidth_hz, 48000), 100, 1e-9);
    EXPECT_NEAR(number_of(pole, RootNumber::q, 48000), 10, 1e-10);
    EXPECT_NEAR(number_of(pole, RootNumber::decay_s, 48000), std::log(1000.0) / (pi * 100), 1e-12);
    EXPECT_NEAR(growth_db_per_s(1.0 / std::conj(pole), 48000),
                60 / number_of(pole, RootNumber::decay_s, 48000), 1e-8);
    const Axis analog(48000, Domain::analog);
    EXPECT_NEAR(number_of({-1, std::sqrt(3.0)}, RootNumber::q, analog), 1, 1e-15);
    EXPECT_EQ(with_number({-1, std::sqrt(3.0)}, RootNumber::q, 0.25, analog).imag(), 0);
}

} // namespace
} // namespace syntonon
