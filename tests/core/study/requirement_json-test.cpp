// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/problems.h"
#include "core/study/requirement_json.h"

#include "core/study/study_json.h"
#include "tests/support/json.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

Study study_requiring(const std::string& requirements, const std::string& more = "") {
    const auto read =
        study_from_json(R"({"format": "syntonon-study", "version": 1, "sample_rate_hz": 48000,
        "goals": [{"id": "g", "requirements": [)"
                        + requirements + "]" + more + "}]}");
    EXPECT_TRUE(read) << to_text(read.error());
    return read ? read->study : Study{};
}

// The design's own example of every kind.
constexpr auto all_kinds = R"(
    {"kind": "ripple", "from_hz": 40, "to_hz": 16000, "max_db": 1},
    {"kind": "attenuation", "from_hz": 20000, "to_hz": 24000, "min_db": 40},
    {"kind": "level", "at_hz": 1000, "min_db": -1, "max_db": 1},
    {"kind": "crossing", "level_db": -3, "min_hz": 17000, "max_hz": 18000},
    {"kind": "group_delay", "from_hz": 0, "to_hz": 6000, "value_samples": 21.4, "tolerance_samples": 0.1},
    {"kind": "peak_gain", "max_db": 6}, {"kind": "latency", "max_samples": 64},
    {"kind": "stability_margin", "min_margin": 0.001}, {"kind": "sections", "max_sections": 12})";

TEST(RequirementJson, ReadsEveryKind) {
    const Study study = study_requiring(all_kinds);
    const auto& all = study.goals[0]->requirements;
    ASSERT_EQ(all.size(), 9u);
    EXPECT_EQ(std::get<RippleRequirement>(all[0].spec), (RippleRequirement{40, 16000, 1}));
    EXPECT_EQ(std::get<AttenuationRequirement>(all[1].spec),
              (AttenuationRequirement{20000, 24000, 40}));
    EXPECT_EQ(std::get<LevelRequirement>(all[2].spec), (LevelRequirement{1000, -1, 1}));
    EXPECT_EQ(std::get<CrossingRequirement>(all[3].spec), (CrossingRequirement{-3, 17000, 18000}));
    EXPECT_EQ(std::get<GroupDelayRequirement>(all[4].spec),
              (GroupDelayRequirement{
                  0, 6000, Duration{21.4, TimeUnit::samples}, {0.1, TimeUnit::samples}}));
    EXPECT_EQ(std::get<PeakGainRequirement>(all[5].spec), (PeakGainRequirement{6}));
    EXPECT_EQ(std::get<LatencyRequirement>(all[6].spec), (LatencyRequirement{64}));
    EXPECT_EQ(std::get<StabilityRequirement>(all[7].spec), (StabilityRequirement{0.001}));
    EXPECT_EQ(std::get<SectionsRequirement>(all[8].spec), (SectionsRequirement{12}));
}

TEST(RequirementJson, WritesWhatItReads) {
    const Study study = study_requiring(all_kinds);
    EXPECT_EQ(study_from_json(json_from_study(study))->study, study);
}

TEST(RequirementJson, OneSidedLevelsStayOneSided) {
    const Study study = study_requiring(R"({"kind": "level", "at_hz": 50, "max_db": -12})");
    const auto& level = std::get<LevelRequirement>(study.goals[0]->requirements[0].spec);
    EXPECT_FALSE(level.min_db.has_value());
    EXPECT_EQ(json_from_study(study).find("min_db"), std::string::npos);
}

TEST(RequirementJson, UnknownKindsAreKeptWhole) {
    const Study study =
        study_requiring(R"({"kind": "loveliness", "at_least": 7, "whose": ["ours"]})");
    EXPECT_EQ(std::get<UnknownRequirement>(study.goals[0]->requirements[0].spec).its_kind,
              "loveliness");
    const std::string written = json_from_study(study);
    EXPECT_EQ(test::json_at(written, "/goals/0/requirements/0/kind"), "\"loveliness\"");
    EXPECT_EQ(test::json_at(written, "/goals/0/requirements/0/at_least"), "7");
    EXPECT_EQ(test::json_at(written, "/goals/0/requirements/0/whose/0"), "\"ours\"");
}

TEST(RequirementJson, EveryKindComesBackAsItWas) {
    Study study = empty_study();
    Goal goal;
    goal.id = "g";
    const Duration ms{2.5, TimeUnit::ms}, seconds{0.125, TimeUnit::s};
    goal.requirements = {{TransitionWidthRequirement{100, 900, -1, -60, 33}},
                         {GroupDelayRequirement{0, 50, std::nullopt, ms}},
                         {DelayVariationRequirement{20, 200, seconds}},
                         {PhaseRequirement{20, 200, std::nullopt, 5}},
                         {PhaseRequirement{20, 200, 45, 5}},
                         {LatencyRequirement{ms}},
                         {PreRingingRequirement{-52}},
                         {PreRingingTimeRequirement{-48, ms}},
                         {SettlingTimeRequirement{0.5, seconds}},
                         {OvershootRequirement{12}},
                         {DecayTimeRequirement{30, ms}},
                         {TapsRequirement{511}}};
    study.goals.emplace_back(goal);
    const auto read = study_from_json(json_from_study(study));
    ASSERT_TRUE(read);
    EXPECT_TRUE(read->warnings.empty());
    EXPECT_EQ(read->study.goals[0]->requirements, goal.requirements);
}

TEST(RequirementJson, MissingAndWrongFieldsAreNamed) {
    const auto place = [](const std::string& requirement) {
        const auto read =
            study_from_json(R"({"format": "syntonon-study", "version": 1, "sample_rate_hz": 48000,
            "goals": [{"id": "g", "requirements": [)"
                            + requirement + "]}]}");
        return read ? std::string("fine") : read.error().place;
    };
    EXPECT_EQ(place(R"({"max_db": 1})"), "goals[0].requirements[0].kind");
    EXPECT_EQ(place(R"({"kind": "ripple", "from_hz": 1, "to_hz": 2})"),
              "goals[0].requirements[0].max_db");
    EXPECT_EQ(place(R"({"kind": "latency", "max_samples": "few"})"),
              "goals[0].requirements[0].max_samples");
    EXPECT_EQ(place(R"({"kind": "latency"})"), "goals[0].requirements[0].max_samples");
    EXPECT_EQ(place(R"({"kind": "latency", "max_samples": 48, "max_ms": 1})"),
              "goals[0].requirements[0].max_ms");
    EXPECT_EQ(place("5"), "goals[0].requirements[0]");
}

TEST(RequirementJson, ContradictionsAreFoundByCheckNotByReading) {
    const Study study =
        study_requiring(R"({"kind": "ripple", "from_hz": 9, "to_hz": 2, "max_db": 1})");
    const auto problems = problems_of(study);
    ASSERT_EQ(problems.size(), 1u);
    EXPECT_EQ(problems[0].place, "goals[0].requirements[0].to_hz");
}

} // namespace
} // namespace syntonon
