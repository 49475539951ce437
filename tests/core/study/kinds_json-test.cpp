// Each kind of stage in the study file.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/kinds.h"
#include "core/study/study_json.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::string study_with(std::string_view fields) {
    return fmt::format(R"({{"format": "syntonon-study", "version": 1, "sample_rate_hz": 48000,
        "channels": [{{"id": "z", "stages": [{{"id": "s1", {}}}]}}]}})",
                       fields);
}

Expected<StageSpec> spec_from(std::string_view fields) {
    const auto read = study_from_json(study_with(fields));
    return read.map([](const ReadStudy& r) { return r.study.channels[0]->stages[0]->spec; });
}

std::string refused_place(std::string_view fields) {
    const auto spec = spec_from(fields);
    return spec ? "read" : spec.error().place;
}

void expect_kept(std::string_view fields, const StageSpec& wanted) {
    const auto spec = spec_from(fields);
    ASSERT_TRUE(spec) << to_text(spec.error());
    EXPECT_EQ(*spec, wanted) << fields;
    Study study = study_from_json(study_with(fields))->study;
    const auto again = study_from_json(json_from_study(study));
    ASSERT_TRUE(again);
    EXPECT_EQ(again->study, study) << fields;
    EXPECT_TRUE(again->warnings.empty());
}

TEST(KindsJson, AGainIsInDecibelsOrAFactor) {
    expect_kept(R"("kind": "gain", "gain_db": -6)", GainSpec{-6, false, {}});
    expect_kept(R"("kind": "gain", "gain_db": 3, "invert": true)", GainSpec{3, true, {}});
    expect_kept(R"("kind": "gain", "factor": -0.5)", GainSpec{0, false, -0.5});
    EXPECT_EQ(refused_place(R"("kind": "gain")"), "channels[0].stages[0].gain_db");
    EXPECT_EQ(refused_place(R"("kind": "gain", "gain_db": 1, "factor": 2)"),
              "channels[0].stages[0].factor");
    EXPECT_EQ(refused_place(R"("kind": "gain", "factor": 2, "invert": true)"),
              "channels[0].stages[0].factor");
}

TEST(KindsJson, ADelayIsInOneOfThreeUnits) {
    expect_kept(R"("kind": "delay", "samples": 48)", DelaySpec{DelayUnit::samples, 48});
    expect_kept(R"("kind": "delay", "ms": 2.1, "interpolation": "none")",
                DelaySpec{DelayUnit::ms, 2.1});
    expect_kept(R"("kind": "delay", "metres": 3.4, "speed_of_sound_m_per_s": 340)",
                DelaySpec{DelayUnit::metres, 3.4, 340});
    EXPECT_EQ(refused_place(R"("kind": "delay")"), "channels[0].stages[0].samples");
    EXPECT_EQ(refused_place(R"("kind": "delay", "samples": 1, "ms": 1)"),
              "channels[0].stages[0].samples");
    EXPECT_EQ(refused_place(R"("kind": "delay", "samples": 1, "interpolation": "cubic")"),
              "channels[0].stages[0].interpolation");
    expect_kept(R"("kind": "delay", "samples": 4.5, "interpolation": "all_pass", "order": 2)",
                DelaySpec{DelayUnit::samples, 4.5, 343, Interpolation::all_pass, 2});
    expect_kept(R"("kind": "delay", "ms": 1, "interpolation": "windowed_sinc", "order": 31)",
                DelaySpec{DelayUnit::ms, 1, 343, Interpolation::windowed_sinc, 31});
    EXPECT_EQ(
        refused_place(R"("kind": "delay", "ms": 1, "interpolation": "lagrange", "order": 2.5)"),
        "channels[0].stages[0].order");
}

TEST(KindsJson, LoopsAndRepetitionsHoldStages) {
    const auto gain = [](const char* id, double db) {
        Stage stage;
        stage.id = id;
        stage.spec = GainSpec{db, false, {}};
        return stage;
    };
    expect_kept(R"("kind": "repeat", "count": 8, "stages": [{"id": "g", "kind": "gain",
                   "gain_db": -1}])",
                RepeatSpec{8, {gain("g", -1)}});
    LoopSpec loop;
    loop.forward = {gain("f", 2)};
    loop.feedback.factor = -0.62;
    loop.feedback.stages = {gain("r", -3)};
    expect_kept(R"("kind": "loop", "forward": [{"id": "f", "kind": "gain", "gain_db": 2}],
                   "feedback": {"factor": -0.62, "stages": [{"id": "r", "kind": "gain",
                   "gain_db": -3}]})",
                loop);
    EXPECT_EQ(refused_place(R"("kind": "repeat", "stages": [])"), "channels[0].stages[0].count");
    EXPECT_EQ(refused_place(R"("kind": "repeat", "count": 1.5, "stages": [])"),
              "channels[0].stages[0].count");
    EXPECT_EQ(refused_place(R"("kind": "loop", "forward": [])"), "channels[0].stages[0].feedback");
    EXPECT_EQ(refused_place(R"("kind": "loop", "forward": [{"id": "f", "kind": "gain"}],
                               "feedback": {"factor": 1})"),
              "channels[0].stages[0].forward[0].gain_db");
    EXPECT_EQ(refused_place(R"("kind": "loop", "forward": [{"id": "f", "kind": "gain",
                               "gain_db": 0}], "feedback": {"factor": 1, "stages": [{"id": "f",
                               "kind": "gain", "gain_db": 0}]})"),
              "channels[0].stages[0].feedback.stages[0].id");
}

TEST(KindsJson, TapsMayBeNumbersOrTheirBytes) {
    const auto taps = [](std::vector<double> values) {
        return TapsSpec{std::make_shared<const std::vector<double>>(std::move(values))};
    };
    expect_kept(R"("kind": "taps", "taps": [0.5, -0.25])", taps({0.5, -0.25}));
    expect_kept(R"("kind": "taps", "taps": {"f64": "AAAAAAAA8D8AAAAAAAAAQA=="})", taps({1, 2}));
    EXPECT_EQ(refused_place(R"("kind": "taps", "taps": [])"), "channels[0].stages[0].taps");
    // Many of them are kept bit for bit.
    std::vector<double> many(5000);
    for (std::size_t i = 0; i < many.size(); ++i) {
        many[i] = 1.0 / (3.0 + static_cast<double>(i));
    }
    Study study = study_from_json(study_with(R"("kind": "gain", "gain_db": 0)"))->study;
    study.channels[0].edit().stages[0].edit().spec = taps(many);
    EXPECT_EQ(study_from_json(json_from_study(study))->study, study);
}

TEST(KindsJson, AnUnknownKindNamesTheKnownOnes) {
    const auto spec = spec_from(R"("kind": "flanger")");
    ASSERT_FALSE(spec);
    EXPECT_EQ(spec.error().place, "channels[0].stages[0].kind");
    for (const char* kind : {"parametric", "gain", "delay", "taps"}) {
        EXPECT_NE(spec.error().way_out.find(kind), std::string::npos) << kind;
    }
}

} // namespace
} // namespace syntonon
