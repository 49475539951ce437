// Roots of stages of every kind, dragged.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/root_drag.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/study/kinds.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double snap = 0.005;

Filter stage_filter(const StageSpec& spec, const Axis& axis = 48000) {
    const auto made = design(spec, brief_at(axis), Watch());
    EXPECT_TRUE(made) << to_text(made.error());
    return made->filter;
}

StageSpec dragged(const StageSpec& spec, const RootPlace& place, const Complex& to,
                  const Axis& axis = 48000) {
    const auto made =
        with_root_moved(spec, stage_filter(spec, axis), brief_at(axis), place, to, snap);
    EXPECT_TRUE(made) << to_text(made.error());
    return made.value_or(spec);
}

double distance(const StageSpec& spec, bool poles, const Complex& to, const Axis& axis = 48000) {
    const Filter filter = stage_filter(spec, axis);
    double least = 1e300;
    for (const Complex& root : poles ? filter.roots()->poles : filter.roots()->zeros) {
        least = std::min(least, std::abs(root - to));
    }
    return least;
}

TEST(RootDrag, APeaksPoleMovesFrequencyAndQ) {
    const ParametricSpec peak = parametric(ParametricShape::peak, 1000, 6, 2);
    const Complex to = std::polar(0.93, 0.3);
    const StageSpec made = dragged(peak, {true, 0}, to);
    EXPECT_LT(distance(made, true, to), 1e-6);
    const auto& spec = std::get<ParametricSpec>(*made);
    EXPECT_EQ(spec.gain_db, 6);
    EXPECT_EQ(spec.shape, ParametricShape::peak);
    EXPECT_GT(spec.frequency_hz, 2000);
}

TEST(RootDrag, APeaksZeroMovesTheGainToo) {
    const ParametricSpec peak = parametric(ParametricShape::peak, 1000, 6, 2);
    const Filter before = stage_filter(peak);
    const Complex zero = before.roots()->zeros[0];
    const Complex to = zero * 0.99;
    const StageSpec made = dragged(peak, {false, 0}, to);
    EXPECT_LT(distance(made, false, to), 2e-4);
    EXPECT_NE(std::get<ParametricSpec>(*made).gain_db, 6);
    EXPECT_LT(distance(made, true, before.roots()->poles[0]), 5e-3) << "the pole is left nearly";
}

TEST(RootDrag, AnAnalogPeakToo) {
    const Axis analog(48000, Domain::analog);
    const ParametricSpec peak = parametric(ParametricShape::peak, 1000, 6, 2);
    const Complex to(-500, 8000);
    EXPECT_LT(distance(dragged(peak, {true, 0}, to, analog), true, to, analog), 0.01);
}

bool moves(const StageSpec& spec, bool pole) {
    return with_root_moved(spec, stage_filter(spec), brief_at(48000), {pole, 0}, 0.1, snap)
        .has_value();
}

TEST(RootDrag, AClassicalFilterGoesAsFarAsItsEdgesLetIt) {
    ClassicalSpec butterworth;
    butterworth.order = 4;
    butterworth.edges_hz = {1000, 2000};
    const Complex pole = stage_filter(butterworth).roots()->poles[0];
    const Complex to = std::polar(std::abs(pole), 2 * std::arg(pole));
    const StageSpec made = dragged(butterworth, {true, 0}, to);
    const auto& spec = std::get<ClassicalSpec>(*made);
    EXPECT_NE(spec.edges_hz[0], 1000);
    EXPECT_EQ(spec.order, 4);
    // As near as an edge can bring it: moving it either way leads away.
    const double rest = distance(made, true, to);
    for (const double factor : {0.98, 1.02}) {
        ClassicalSpec beside = spec;
        beside.edges_hz[0] *= factor;
        EXPECT_GT(distance(beside, true, to), rest);
    }
    butterworth.by_tolerances = true;
    EXPECT_FALSE(moves(butterworth, true));
    EXPECT_FALSE(moves(ClassicalSpec(), false)) << "a Butterworth's zeros stay";
}

TEST(RootDrag, CoefficientsFollowTheirRoots) {
    const RecursionSpec spec{{0, 0.5, 0.25}, {2, -2.4, 1.5}, {}};
    const Complex to(0.3, 0.6);
    const StageSpec made = dragged(spec, {true, 0}, to);
    const auto& moved = std::get<RecursionSpec>(*made);
    EXPECT_EQ(moved.b, spec.b);
    ASSERT_EQ(moved.a.size(), 3u);
    EXPECT_EQ(moved.a[0], 2);
    EXPECT_NEAR(moved.a[1], -2 * 2 * 0.3, 1e-15);
    EXPECT_NEAR(moved.a[2], 2 * 0.45, 1e-15);
}

TEST(RootDrag, AResonatorTakenPastTheCircleIsOneOfCoefficients) {
    RecursionSpec spec;
    spec.start = RecursionStart{.form = RecursionForm::resonator};
    const Brief brief = brief_at(Axis(48000));
    const auto filter = design(spec, brief, Watch())->filter;
    const std::size_t upper = filter.roots()->poles[0].imag() > 0 ? 0 : 1;
    const Complex outside = std::polar(1.1, 0.3);
    const auto made = with_root_moved(StageSpec(spec), filter, brief, {true, upper}, outside, 0);
    ASSERT_TRUE(made);
    const auto& free = std::get<RecursionSpec>(**made);
    EXPECT_FALSE(free.start);
    EXPECT_EQ(free.b, coefficients_of(spec, 48000)->numerator) << "as loud as it was";
    ASSERT_EQ(free.a.size(), 3u);
    EXPECT_NEAR(free.a[1] / free.a[0], -2 * 1.1 * std::cos(0.3), 1e-12);
    EXPECT_NEAR(free.a[2] / free.a[0], 1.1 * 1.1, 1e-12);
    const auto inside =
        with_root_moved(StageSpec(spec), filter, brief, {true, upper}, std::polar(0.9, 0.3), 0);
    EXPECT_TRUE(std::get<RecursionSpec>(**inside).start) << "back inside it is a resonator again";
}

TEST(RootDrag, AResonatorKeepsItsFields) {
    RecursionSpec spec;
    spec.start = RecursionStart{.form = RecursionForm::resonator};
    const Complex to = std::polar(0.99, 0.5);
    const StageSpec made = dragged(spec, {true, 0}, to);
    EXPECT_LT(distance(made, true, to), 1e-6);
    const auto& start = std::get<RecursionSpec>(*made).start;
    ASSERT_TRUE(start);
    EXPECT_NEAR(start->frequency_hz, 0.5 * 48000 / (2 * pi), 0.01);
}

TEST(RootDrag, OthersSayThatTheyCannot) {
    const StageSpec taps =
        TapsSpec{std::make_shared<const std::vector<double>>(std::vector{1.0, 0.5})};
    const auto made =
        with_root_moved(taps, stage_filter(taps), brief_at(48000), {false, 0}, 0.1, snap);
    EXPECT_EQ(made.error().way_out, "open it into roots");
    const StageSpec roots = RootsSpec{{}, {{0.5, 0}}, 1};
    EXPECT_FALSE(
        with_root_moved(roots, stage_filter(roots), brief_at(48000), {true, 7}, 0.1, snap));
}

} // namespace
} // namespace syntonon
