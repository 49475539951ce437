// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study_json.h"

#include "core/study/json_reader.h"
#include "core/study/kinds.h"
#include "core/study/problems.h"
#include "demo/brightwater.h"
#include "tests/support/json.h"
#include "tests/support/places.h"
#include "tests/support/scratch.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr std::string_view small = R"({
  "format": "syntonon-study", "version": 1, "name": "Small", "sample_rate_hz": 48000,
  "curves": [{"id": "c", "name": "C", "frequency_hz": [20, 25], "magnitude_db": [71.2, 73.0], "phase_deg": [10, -14]}],
  "goals": [{"id": "g", "name": "G", "target": {"points": [{"frequency_hz": 20, "magnitude_db": 3}], "between": "linear"},
             "corridor": [{"from_hz": 40, "to_hz": 16000, "above_db": 2}]}],
  "channels": [{"id": "z", "name": "Z", "goal": "g", "measured": "c", "stages": [
     {"id": "s1", "kind": "parametric", "enabled": false, "name": "mine", "shape": "low_shelf", "frequency_hz": 110, "gain_db": -3, "slope": 0.9},
     {"id": "s2", "kind": "parametric", "shape": "all_pass", "order": 1, "frequency_hz": 500}]}],
  "deliveries": [{"id": "d", "format": "c_header", "number": "float", "digits": 9, "order": "a1 a2 b0 b1 b2", "channels": ["z"]}]
})";

// `small` with one piece replaced.
std::string with(std::string_view piece, std::string_view other) {
    std::string text(small);
    const auto at = text.find(piece);
    EXPECT_NE(at, std::string::npos) << piece;
    return text.replace(at, piece.size(), other);
}

TEST(StudyJson, ReadsEveryField) {
    const auto read = study_from_json(small);
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_TRUE(read->warnings.empty());
    const Study& study = read->study;
    EXPECT_EQ(study.name, "Small");
    EXPECT_EQ(measured_of(study, *study.channels[0]).value()->curve->phase_deg[1], -14);
    EXPECT_EQ(goal_of(study, *study.channels[0])->target.between, Between::linear_frequency);
    EXPECT_FALSE(goal_of(study, *study.channels[0])->corridor[0].below_db.has_value());
    const Stage& shelf = *study.channels[0]->stages[0];
    EXPECT_FALSE(shelf.enabled);
    EXPECT_EQ(title_of(shelf), "mine");
    EXPECT_EQ(std::get<ParametricSpec>(*shelf.spec).width, (Width{WidthKind::slope, 0.9}));
    EXPECT_EQ(std::get<ParametricSpec>(*study.channels[0]->stages[1]->spec).order, 1);
    EXPECT_EQ(study.deliveries[0].layout.order.front(), Term::a1);
}

TEST(StudyJson, WritesWhatItReads) {
    for (const Study& study :
         {study_from_json(small)->study, brightwater_study(), empty_study(), Study{}}) {
        const auto back = study_from_json(json_from_study(study));
        ASSERT_TRUE(back) << to_text(back.error());
        EXPECT_EQ(back->study, study);
    }
}

TEST(StudyJson, KeepsUnknownKeysAndNamesThem) {
    std::string text = with("\"id\": \"s1\",", "\"id\": \"s1\", \"mood\": {\"x\": [1, 2.5]},");
    text.replace(text.find("\"version\""), 0, "\"zeta\": null, ");
    const auto read = study_from_json(text);
    ASSERT_TRUE(read);
    ASSERT_EQ(read->warnings.size(), 2u);
    EXPECT_NE(read->warnings[0].find("channels[0].stages[0].mood"), std::string::npos);
    const std::string written = json_from_study(read->study);
    EXPECT_EQ(test::json_at(written, "/channels/0/stages/0/mood/x/1"), "2.5");
    EXPECT_NE(test::json_at(written, "/zeta"), "absent");
    EXPECT_EQ(study_from_json(json_from_study(read->study))->study, read->study);
}

TEST(StudyJson, LongArraysAreCompactAndBothFormsAreRead) {
    Study study = empty_study();
    Curve curve;
    curve.id = curve.name = "long";
    for (int i = 1; i <= 5000; ++i) {
        curve.frequency_hz.push_back(i * 0.1);
        curve.magnitude_db.push_back(1.0 / i);
    }
    study.curves.emplace_back(curve);
    const std::string text = json_from_study(study);
    EXPECT_NE(text.find("\"f64\""), std::string::npos);
    EXPECT_EQ(study_from_json(text)->study, study);
    const std::string plain = test::json_with(
        text, "/curves/0/frequency_hz", fmt::format("[{}]", fmt::join(curve.frequency_hz, ",")));
    EXPECT_EQ(study_from_json(plain)->study, study);
}

TEST(StudyJson, NamesThatAreNoUtf8AreStillSaved) {
    Study study = empty_study();
    study.name = "caf\xe9";
    EXPECT_TRUE(study_from_json(json_from_study(study)));
}

struct Bad {
    const char* name;
    std::string text;
    const char* place; // where the problem must say it is
};

class BadStudies : public testing::TestWithParam<Bad> {};

TEST_P(BadStudies, AreRefusedWithAPathAndAWayOut) {
    const auto read = study_from_json(GetParam().text);
    ASSERT_FALSE(read);
    EXPECT_EQ(read.error().place, GetParam().place) << to_text(read.error());
    EXPECT_FALSE(read.error().reason.empty());
    EXPECT_FALSE(read.error().way_out.empty());
    EXPECT_EQ(to_text(read.error()).find('\n'), std::string::npos);
}
INSTANTIATE_TEST_SUITE_P(
    Json, BadStudies,
    testing::Values(
        Bad{"empty", "", "line 1, column 1"},
        Bad{"cut_off", std::string(small.substr(0, 300)), "line 4, column 92"},
        Bad{"no_json", "hello", "line 1, column 1"},
        Bad{"binary",
            std::string("\x7f"
                        "ELF\0\1\2",
                        7),
            "line 1, column 1"},
        Bad{"an_array", "[]", ""}, Bad{"other_format", R"({"format": "x"})", "format"},
        Bad{"no_format", "{}", "format"},
        Bad{"newer", with("\"version\": 1", "\"version\": 2"), "version"},
        Bad{"no_rate", with("\"sample_rate_hz\": 48000,", ""), "sample_rate_hz"},
        Bad{"rate_zero", with("48000", "0"), "sample_rate_hz"},
        Bad{"rate_text", with("48000", "\"48k\""), "sample_rate_hz"},
        Bad{"number_too_large", with("48000", "1e999"), "sample_rate_hz"},
        Bad{"not_a_number", with("48000", "NaN"), "line 2, column 80"},
        Bad{"unknown_kind", with("\"kind\": \"parametric\"", "\"kind\": \"magic\""),
            "channels[0].stages[0].kind"},
        Bad{"no_kind", with("\"kind\": \"parametric\", ", ""), "channels[0].stages[0].kind"},
        Bad{"unknown_shape", with("low_shelf", "hill"), "channels[0].stages[0].shape"},
        Bad{"no_frequency", with("\"frequency_hz\": 110, ", ""),
            "channels[0].stages[0].frequency_hz"},
        Bad{"no_gain", with("\"gain_db\": -3, ", ""), "channels[0].stages[0].gain_db"},
        Bad{"no_width", with(", \"slope\": 0.9", ""), "channels[0].stages[0].q"},
        Bad{"two_widths", with("\"slope\": 0.9", "\"slope\": 0.9, \"q\": 1"),
            "channels[0].stages[0].q"},
        Bad{"other_mapping", with("\"slope\": 0.9", "\"slope\": 0.9, \"mapping\": \"odd\""),
            "channels[0].stages[0].mapping"},
        Bad{"order_half", with("\"order\": 1", "\"order\": 1.5"), "channels[0].stages[1].order"},
        Bad{"same_stage_id", with("\"s2\"", "\"s1\""), "channels[0].stages[1].id"},
        Bad{"stages_no_array", with("\"stages\": [", "\"stages\": 5, \"x\": ["),
            "channels[0].stages"},
        Bad{"curve_lengths", with("[71.2, 73.0]", "[71.2]"), "curves[0].magnitude_db"},
        Bad{"curve_text", with("71.2", "\"x\""), "curves[0].magnitude_db[0]"},
        Bad{"curve_not_ascending", with("[20, 25]", "[25, 20]"), "curves[0].frequency_hz[1]"},
        Bad{"curve_bad_base64", with("[20, 25]", "{\"f64\": \"!\"}"), "curves[0].frequency_hz.f64"},
        Bad{"enabled_text", with("false", "\"no\""), "channels[0].stages[0].enabled"},
        Bad{"between", with("\"linear\"", "\"cubic\""), "goals[0].target.between"},
        Bad{"order_terms", with("a1 a2 b0", "a1 a1 b0"), "deliveries[0].order"},
        Bad{"deep", std::string(100000, '['), ""}),
    [](const auto& tested) { return std::string(tested.param.name); });

TEST(StudyJson, SurvivesEveryCut) {
    const std::string text = json_from_study(study_from_json(small)->study);
    for (std::size_t cut = 0; cut + 2 < text.size(); ++cut) {
        EXPECT_FALSE(study_from_json(text.substr(0, cut))) << cut;
    }
}

TEST(StudyFile, SavesAndLoads) {
    const test::Scratch scratch;
    const auto path = scratch.file("dome.syntonon");
    ASSERT_TRUE(save_study(brightwater_study(), path));
    EXPECT_EQ(load_study(path)->study, brightwater_study());
    const auto bad = load_study(scratch.write("bad.syntonon", with("\"low_shelf\"", "\"hill\"")));
    EXPECT_EQ(bad.error().place,
              scratch.file("bad.syntonon").string() + ": channels[0].stages[0].shape");
}

TEST(StudyFile, RefusesTwoHundredMegabytesBeforeReadingThem) {
    const test::Scratch scratch;
    const auto path = scratch.write("huge.syntonon", "");
    std::filesystem::resize_file(path, 200'000'000); // sparse
    const auto read = load_study(path);
    ASSERT_FALSE(read);
    EXPECT_NE(read.error().reason.find("200 MB"), std::string::npos);
}

TEST(StudyFile, TheDemoInTheRepositoryIsTheOneThatTheProgramMakes) {
    EXPECT_EQ(load_study(test::demo_study())->study, brightwater_study());
}

TEST(Study, ListsEveryProblemWithItsPlace) {
    EXPECT_TRUE(problems_of(brightwater_study()).empty());
    Study study = study_from_json(small)->study;
    study.sample_rate_hz = 800;
    study.channels[0].edit().goal = "gone";
    study.channels[0].edit().measured = {{"gone"}};
    study.goals[0].edit().corridor[0].to_hz = 1;
    study.deliveries[0].channels = {"nobody"};
    std::vector<std::string> places;
    for (const Problem& problem : problems_of(study)) {
        places.push_back(problem.place);
    }
    EXPECT_EQ(places, (std::vector<std::string>{
                          "goals[0].corridor[0].to_hz", "channels[0].goal", "channels[0].measured",
                          "channels[0].stages[1].frequency_hz", "deliveries[0].channels[0]"}));
}

TEST(Study, FreshIdsAreFree) {
    Study study = empty_study();
    EXPECT_EQ(fresh_id(study, "Dome, row A!"), "dome-row-a-");
    EXPECT_EQ(fresh_id(study, "channel 1"), "channel-1-2");
    EXPECT_EQ(fresh_id(study, "»«"), "item");
}

} // namespace
} // namespace syntonon
