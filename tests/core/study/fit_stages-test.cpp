// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fit_stages.h"

#include "core/study/analysis.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Stage correction_stage(std::string id, int count) {
    Stage stage;
    stage.id = std::move(id);
    CorrectionSpec spec;
    std::get<SectionsCorrection>(spec.method).count = count;
    stage.spec = spec;
    return stage;
}

// Sunrise with nothing but these.
Study with_stages(const Chain& chain) {
    Study study = brightwater_study();
    study.channels[1].edit().stages = chain;
    return study;
}

TEST(FitStages, WhatIsHandedOverIsNoGroundOfAFit) {
    const Study study = brightwater_study();
    Study other = study;
    other.name = "Renamed";
    other.deliveries.clear();
    other.test_signals.clear();
    EXPECT_TRUE(is_same_ground(study, other));
    other.channels[0].edit().stages.front().edit().enabled ^= true; // a goal may follow it
    EXPECT_FALSE(is_same_ground(study, other));
    other = study;
    other.goals.pop_back();
    EXPECT_FALSE(is_same_ground(study, other));
}

TEST(FitStages, EachSeesWhatStandsAboveIt) {
    const Study study = with_stages({correction_stage("a", 3), correction_stage("b", 3)});
    Briefs briefs;
    const auto fitted = fitted_anew(study, places_to_fit(study, {"sunrise"}), briefs);
    ASSERT_TRUE(fitted) << to_text(fitted.error());
    const Channel& channel = *fitted->channels[1];
    const auto figures = [&](const char* id) {
        return *figures_of_fit(stage_of(channel, id)->spec,
                               *briefs.fit_brief(*fitted, channel, id));
    };
    EXPECT_EQ(figures("a").found, 3U);
    EXPECT_LT(figures("a").together.after.rms_db, figures("a").together.before.rms_db);
    EXPECT_NEAR(figures("b").together.before.rms_db, figures("a").together.after.rms_db, 0.01)
        << "but for averaging over a sixth of an octave";
    EXPECT_LT(figures("b").together.after.rms_db, figures("b").together.before.rms_db);
    EXPECT_EQ(figures("b").positions.size(), 4U);
    for (const char* id : {"a", "b"}) {
        EXPECT_FALSE(
            out_of_date(stage_of(channel, id)->spec, *briefs.fit_brief(*fitted, channel, id)));
    }
}

TEST(FitStages, WhatIsBelowIsOutOfDateWhenWhatIsAboveChanges) {
    Briefs briefs;
    Study study = *fitted_anew(with_stages({correction_stage("a", 3), correction_stage("b", 3)}),
                               {{"sunrise", "a"}, {"sunrise", "b"}}, briefs);
    edit_stage(study.channels[1].edit().stages, "a", [](Stage& stage) {
        auto& method =
            std::get<SectionsCorrection>(std::get<CorrectionSpec>(stage.spec.edit()).method);
        method.found[0].section.gain_db += 3;
    });
    const Channel& channel = *study.channels[1];
    const auto state = [&](const char* id) {
        return out_of_date(stage_of(channel, id)->spec, *briefs.fit_brief(study, channel, id));
    };
    EXPECT_FALSE(state("a")) << "its own sections are in nobody's way";
    ASSERT_TRUE(state("b"));
    EXPECT_GT(state("b")->most_db, 1.5);
}

TEST(FitStages, OpeningAStudyChangesNoCoefficient) {
    Briefs briefs;
    Study study = *fitted_anew(with_stages({correction_stage("a", 4)}), {{"sunrise", "a"}}, briefs);
    AnalysisCache cache;
    const auto before = cache.analyse(study, *study.channels[1])->chain.sections();
    edit_stage(study.channels[1].edit().stages, "a", [](Stage& stage) {
        std::get<CorrectionSpec>(stage.spec.edit()).cut_limit_db = 1; // a setting only
    });
    const auto after = cache.analyse(study, *study.channels[1])->chain.sections();
    EXPECT_EQ(before->sections, after->sections);
    EXPECT_EQ(before->sections.size(), 4U);
}

TEST(FitStages, ARecipeServesManyChannels) {
    Study study = with_stages({correction_stage("a", 4)});
    study.channels[2].edit().stages = {correction_stage("own", 9)};
    edit_stage(study.channels[2].edit().stages, "own", [](Stage& stage) {
        auto& method =
            std::get<SectionsCorrection>(std::get<CorrectionSpec>(stage.spec.edit()).method);
        method.found = {{parametric(ParametricShape::peak, 80, -3, 2), true, {}},
                        {parametric(ParametricShape::peak, 500, -3, 2), false, {}}};
    });
    const std::size_t zenith_stages = study.channels[0]->stages.size();
    const WithRecipe made = with_recipe(study, {"sunrise", "a"}, {"sunrise", "sunset", "zenith"});
    ASSERT_EQ(made.places.size(), 3U);
    EXPECT_EQ(made.places[0], (FitPlace{"sunrise", "a"}));
    EXPECT_EQ(made.places[1], (FitPlace{"sunset", "own"})) << "its own first correction";
    EXPECT_EQ(made.study.channels[0]->stages.size(), zenith_stages + 1) << "a new one below";
    const auto method = [&](std::size_t i) {
        const auto* channel = channel_of(made.study, made.places[i].channel);
        const auto& spec =
            std::get<CorrectionSpec>(*stage_of(*channel, made.places[i].stage)->spec);
        return std::get<SectionsCorrection>(spec.method);
    };
    EXPECT_EQ(method(1).count, 4);
    ASSERT_EQ(method(1).found.size(), 1U);
    EXPECT_TRUE(method(1).found[0].locked);
    Briefs briefs;
    const auto fitted = fitted_anew(made.study, made.places, briefs);
    ASSERT_TRUE(fitted) << to_text(fitted.error());
    EXPECT_EQ(stages_of_found(fitted->channels[0]->stages.back()->spec).size(), 4U);
}

TEST(FitStages, WithinABranchWhatTheSignalPassedBeforeIsAbove) {
    SplitSpec split;
    split.branches = {{1, {correction_stage("in", 2)}, {}}, {0, {}, {}}};
    Stage holder, gain;
    holder.id = "split";
    holder.spec = split;
    gain.id = "gain";
    gain.spec = GainSpec{6, false, {}};
    const Study study = with_stages({gain, holder});
    Briefs briefs;
    const Channel& channel = *study.channels[1];
    const auto brief = briefs.fit_brief(study, channel, "in");
    ASSERT_TRUE(brief);
    EXPECT_NEAR(brief->above.response_at(1000, 48000).magnitude_db, 6, 1e-12);
    EXPECT_EQ(stages_to_fit(channel), std::vector<std::string>{"in"});
}

TEST(FitStages, RefusalsNameThePlaceAndChangeNothing) {
    Study study = with_stages({correction_stage("a", 3)});
    study.channels[1].edit().measured.clear();
    Briefs briefs;
    const auto refused = fitted_anew(study, places_to_fit(study, {"zenith", "sunrise"}), briefs);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "channels[1].stages[0].from_hz");
    EXPECT_FALSE(can_be_fitted(StageSpec(GainSpec())));
    EXPECT_FALSE(fit(StageSpec(GainSpec()), brief_at(48000), Watch()));
}

// Docent, which is not measured, with a fit to a target of its own.
TEST(FitStages, ARecursiveFitFollowsItsOwnTarget) {
    Study study = brightwater_study();
    Channel& docent = study.channels[3].edit();
    docent.stages.clear();
    Stage stage;
    stage.id = "fit";
    FittedSpec spec;
    spec.target.emplace();
    spec.target->points = {{20, 6, {}, {}}, {20'000, -6, {}, {}}};
    stage.spec = spec;
    docent.stages.emplace_back(stage);
    Briefs briefs;
    const auto of_goal = briefs.goal_of(study, docent).goal;
    const Study fitted = *fitted_anew(study, {{"docent", "fit"}}, briefs);
    const Channel& channel = *fitted.channels[3];
    const StageSpec& found = stage_of(channel, "fit")->spec;
    EXPECT_TRUE(is_fitted(found));
    const Brief brief = *briefs.fit_brief(fitted, channel, "fit");
    EXPECT_LT(figures_of_fit(found, brief)->together.after.worst_db, 0.05);
    EXPECT_NEAR(briefs.design(fitted, channel).filter.response_at(2000, 48'000).magnitude_db, -2,
                0.05);
    EXPECT_EQ(briefs.goal_of(fitted, channel).goal, of_goal) << "the channel's goal stays its own";
    EXPECT_TRUE(stages_of_found(found).empty()) << "roots are no stages of a correction";
}

// Two channels of all-passes, one of them late and turned: in phase over the range afterwards.
TEST(FitStages, AChannelIsBroughtIntoPhaseWithAnother) {
    Study study = empty_study();
    const auto add = [&](const char* id, std::vector<StageSpec> specs) {
        Channel channel;
        channel.id = channel.name = id;
        for (StageSpec& spec : specs) {
            Stage stage;
            stage.id = "s" + std::to_string(channel.stages.size());
            stage.spec = std::move(spec);
            channel.stages.emplace_back(stage);
        }
        study.channels.emplace_back(channel);
    };
    study.channels.clear();
    ClassicalSpec high_pass;
    high_pass.band = ClassicalBand::high_pass;
    high_pass.edges_hz[0] = 80;
    add("main", {high_pass, DelaySpec{DelayUnit::samples, 200}, GainSpec{0, true, {}}});
    FittedSpec match;
    match.match = FittedMatch::phase;
    match.channel = "main";
    match.order = 4;
    match.from_hz = 50;
    match.to_hz = 250;
    add("sub", {match});
    Briefs briefs;
    const Study fitted = *fitted_anew(study, {{"sub", "s0"}}, briefs);
    const Filter main = briefs.design(fitted, *fitted.channels[0]).filter,
                 sub = briefs.design(fitted, *fitted.channels[1]).filter;
    for (const double hz : {55.0, 80.0, 120.0, 180.0, 240.0}) {
        const auto a = main.response_at(hz, 48'000), b = sub.response_at(hz, 48'000);
        EXPECT_NEAR(std::remainder(a.phase_rad - b.phase_rad, 2 * std::acos(-1)), 0, 0.05) << hz;
        EXPECT_NEAR(b.magnitude_db, 0, 1e-6) << "the level stays";
    }
    const Brief brief = *briefs.fit_brief(fitted, *fitted.channels[1], "s0");
    EXPECT_LT(figures_of_fit(stage_of(*fitted.channels[1], "s0")->spec, brief)->timing->after.rms,
              2);
    study.channels[1].edit().stages[0].edit().spec = [&] {
        FittedSpec itself = match;
        itself.channel = "sub";
        return itself;
    }();
    EXPECT_EQ(briefs.fit_brief(study, *study.channels[1], "s0").error().place, "channel");
}

// Below a long FIR: the model takes its place once it is found, and only then.
TEST(FitStages, AModelTakesThePlaceOfTheStagesAbove) {
    Study study = brightwater_study();
    Channel& docent = study.channels[3].edit();
    docent.stages.clear();
    Stage taps;
    taps.id = "long";
    taps.spec = TapsSpec{std::make_shared<const std::vector<double>>(
        std::vector{0.5, 0.25, 0.125, 0.0625, 0.03125, 0.015625, 0.0078125, 0.00390625})};
    Stage model;
    model.id = "model";
    FittedSpec spec;
    spec.match = FittedMatch::impulse;
    spec.order = 1;
    spec.length = 8;
    model.spec = spec;
    docent.stages = {taps, model};
    Briefs briefs;
    const double before = briefs.design(study, docent).filter.response_at(100, 48'000).magnitude_db;
    const Study fitted = *fitted_anew(study, {{"docent", "model"}}, briefs);
    const Filter after = briefs.design(fitted, *fitted.channels[3]).filter;
    EXPECT_NEAR(after.response_at(100, 48'000).magnitude_db, before, 0.1) << "once, not twice";
    EXPECT_EQ(after.roots()->poles.size(), 1U);
    EXPECT_NEAR(after.roots()->poles[0].real(), 0.5, 0.02);
}

TEST(FitStages, AModelOfACurveNamesOneWithAnImpulseResponse) {
    Study study = brightwater_study();
    Channel& docent = study.channels[3].edit();
    docent.stages.clear();
    Stage model;
    model.id = "model";
    FittedSpec spec;
    spec.match = FittedMatch::impulse;
    spec.curve = "nobody";
    model.spec = spec;
    docent.stages.emplace_back(model);
    Briefs briefs;
    EXPECT_EQ(briefs.fit_brief(study, docent, "model").error().place, "curve");
    Curve plain;
    plain.id = "nobody";
    plain.name = "Nobody";
    plain.frequency_hz = {20, 20'000};
    plain.magnitude_db = {0, 0};
    study.curves.emplace_back(plain);
    EXPECT_EQ(briefs.fit_brief(study, docent, "model").error().place, "curve");
    Measurement measured;
    measured.impulse.samples = {0, 0, 1, 0.5, 0.25, 0.125};
    CurveOrigin origin;
    origin.measured = measured;
    plain.origin = origin;
    study.curves.back() = SharedValue(plain);
    const auto brief = briefs.fit_brief(study, docent, "model");
    ASSERT_TRUE(brief) << to_text(brief.error());
    EXPECT_EQ(brief->impulse->values, measured.impulse.samples);
}

} // namespace
} // namespace syntonon
