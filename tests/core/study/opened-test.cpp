// Stages turned into kinds that do the same.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/opened.h"

#include "core/filter/form.h"
#include "core/math/polynomial_zeros.h"
#include "core/study/kinds.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

Stage stage_of(StageSpec spec) {
    Stage stage;
    stage.id = "s";
    stage.spec = std::move(spec);
    return stage;
}

Filter filter_of(const StageSpec& spec, const Axis& axis = 48000) {
    if (const auto* repeat = std::get_if<RepeatSpec>(&*spec)) {
        std::vector<Filter> parts;
        for (const auto& part : repeat->stages) {
            parts.push_back(filter_of(part->spec, axis));
        }
        return series(parts);
    }
    const auto made = design(spec, brief_at(axis), Watch());
    EXPECT_TRUE(made) << to_text(made.error());
    return made->filter;
}

Filter filter_of(const Opened& opened, const Axis& axis = 48000) {
    std::vector<Filter> parts;
    for (const StageSpec& spec : opened.specs) {
        parts.push_back(filter_of(spec, axis));
    }
    return series(parts);
}

void expect_same(const Filter& a, const Filter& b, const Axis& axis = 48000) {
    for (const double hz : {1.0, 50.0, 440.0, 997.0, 3000.0, 12345.0, 23000.0}) {
        const auto at = circle_point(hz, axis);
        const auto wanted = a.prober()->value(at).h, is = b.prober()->value(at).h;
        EXPECT_LT(std::abs(is - wanted), 1e-9 * std::abs(wanted)) << hz;
    }
}

ClassicalSpec elliptic() {
    ClassicalSpec spec;
    spec.family = ClassicalFamily::elliptic;
    spec.order = 7;
    spec.edges_hz = {3000};
    return spec;
}

TEST(Opened, AnOddLowPassIsAPairOfAllPasses) {
    const auto made = opened(stage_of(elliptic()), filter_of(elliptic()), OpenedAs::all_pass_pair);
    ASSERT_TRUE(made) << to_text(made.error());
    const auto& split = std::get<SplitSpec>(*made->specs.at(0));
    std::vector<Filter> branches;
    for (const Branch& branch : split.branches) {
        branches.push_back(filter_of(branch.stages.at(0)->spec));
    }
    EXPECT_EQ(branches[0].roots()->poles.size() + branches[1].roots()->poles.size(), 7U);
    expect_same(compose(split, branches)->filter, filter_of(elliptic()));
    ClassicalSpec even = elliptic();
    even.order = 6;
    EXPECT_FALSE(opened(stage_of(even), filter_of(even), OpenedAs::all_pass_pair));
}

TEST(Opened, AnFirOpensIntoItsTapsAndNothingElseDoes) {
    FirSpec fir;
    fir.length = 21;
    const Filter filter = filter_of(fir);
    const auto made = opened(stage_of(fir), filter, OpenedAs::taps);
    ASSERT_TRUE(made) << to_text(made.error());
    EXPECT_EQ(filter_of(*made), filter) << "to the bit";
    EXPECT_NE(made->given_up.find("sample rate"), std::string::npos) << made->given_up;
    EXPECT_FALSE(opened(stage_of(made->specs[0]), filter, OpenedAs::taps)) << "is that already";
    EXPECT_FALSE(opened(stage_of(elliptic()), filter_of(elliptic()), OpenedAs::taps));
}

TEST(Opened, DoesTheSame) {
    const std::vector<StageSpec> stages{
        parametric(ParametricShape::peak, 870, -4.6, 1.4),
        elliptic(),
        GainSpec{0, false, -0.5},
        TapsSpec{std::make_shared<const std::vector<double>>(std::vector{0.0, 0.2, 0.5, 0.2})},
        RecursionSpec{{0, 1, 0.4, 0.1}, {2, -1, 0.3, 0.1}, {}},
        RootsSpec{{{-1, 0}}, {{0.7, 0.6}, {0.7, -0.6}}, 0.1}};
    for (const StageSpec& spec : stages) {
        const Filter filter = filter_of(spec);
        for (const OpenedAs as : {OpenedAs::roots, OpenedAs::recursion, OpenedAs::sections}) {
            const auto made = opened(stage_of(spec), filter, as);
            if (!made) {
                EXPECT_EQ(made.error().reason, "is that already");
                continue;
            }
            expect_same(filter, filter_of(*made));
            EXPECT_EQ(made->lost, "");
        }
    }
}

TEST(Opened, SaysWhatIsGivenUp) {
    const StageSpec peak = parametric(ParametricShape::peak, 870, -4.6, 1.4);
    EXPECT_EQ(
        opened(stage_of(peak), filter_of(peak), OpenedAs::roots)->given_up,
        "frequency, gain and q can no longer be turned; with another sample rate it would sit "
        "at other frequencies");
    const StageSpec roots = RootsSpec{{{-1, 0}}, {{0.5, 0}}, 1};
    EXPECT_EQ(opened(stage_of(roots), filter_of(roots), OpenedAs::recursion)->given_up,
              "gain can no longer be turned");
}

TEST(Opened, AHoldersStagesSayWhetherItFollowsTheRate) {
    const auto given_up = [](StageSpec held) {
        RepeatSpec repeat;
        repeat.stages.emplace_back(stage_of(std::move(held)));
        const StageSpec spec = repeat;
        return opened(stage_of(spec), filter_of(RootsSpec{{}, {{0.5, 0}}, 1}), OpenedAs::recursion)
            ->given_up;
    };
    EXPECT_NE(given_up(parametric(ParametricShape::peak, 870, 3, 1)).find("another sample rate"),
              std::string::npos);
    EXPECT_EQ(given_up(GainSpec{}), "the stages that it holds can no longer be turned");
}

TEST(Opened, ADelayStandsBeforeTheRoots) {
    const StageSpec spec = RecursionSpec{{0, 0, 1}, {1, -0.5}, {}};
    const auto made = opened(stage_of(spec), filter_of(spec), OpenedAs::roots);
    ASSERT_TRUE(made);
    ASSERT_EQ(made->specs.size(), 2u);
    EXPECT_EQ(made->specs[0], StageSpec(DelaySpec{DelayUnit::samples, 2}));
    EXPECT_EQ(made->specs[1], StageSpec(RootsSpec{{}, {{0.5, 0}}, 1}));
}

TEST(Opened, SaysWhatIsLost) {
    // Roots that the doubles of b do not hold: the third coefficient is what two large ones leave.
    const StageSpec spec = RecursionSpec{{1, 1e8, 1, 1e-9}, {1, 0.5}, {}};
    const auto made = opened(stage_of(spec), filter_of(spec), OpenedAs::roots);
    ASSERT_TRUE(made);
    const auto& roots = std::get<RootsSpec>(*made->specs.back());
    const auto again = multiplied_out(roots.gain, roots.zeros);
    double off = 0;
    for (std::size_t k = 0; k < 4; ++k) {
        off = std::max(off, std::abs(again[k] / std::get<RecursionSpec>(*spec).b[k] - 1));
    }
    EXPECT_EQ(made->lost.empty(), off <= 1e-12) << off << ": " << made->lost;
}

TEST(Opened, AnalogStagesHaveRootsOnly) {
    const Axis analog(48000, Domain::analog);
    const StageSpec spec = elliptic();
    const Filter filter = filter_of(spec, analog);
    const auto made = opened(stage_of(spec), filter, OpenedAs::roots);
    ASSERT_TRUE(made);
    expect_same(filter, filter_of(*made, analog), analog);
    EXPECT_FALSE(opened(stage_of(spec), filter, OpenedAs::recursion));
    EXPECT_FALSE(opened(stage_of(spec), filter, OpenedAs::sections));
}

TEST(Opened, IsRefusedWhereItCannotBe) {
    const StageSpec roots = RootsSpec{{}, {{0.5, 0}}, 1};
    EXPECT_EQ(opened(stage_of(roots), filter_of(roots), OpenedAs::roots).error().reason,
              "is that already");
    RootsSpec large;
    large.poles.assign(201, {0.5, 0});
    EXPECT_EQ(opened(stage_of(large), filter_of(large), OpenedAs::recursion).error().reason,
              "is of order 201");
    const StageSpec taps = TapsSpec{std::make_shared<const std::vector<double>>(600, 1.0)};
    EXPECT_FALSE(opened(stage_of(taps), filter_of(taps), OpenedAs::roots));
    EXPECT_FALSE(opened(stage_of(taps), filter_of(taps), OpenedAs::sections));
}

} // namespace
} // namespace syntonon
