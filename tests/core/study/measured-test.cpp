// A channel's measured set: in the file, as one curve, and in the analysis.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/measured.h"

#include "core/study/analysis.h"
#include "core/study/problems.h"
#include "core/study/study_json.h"

#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <tuple>

namespace syntonon {
namespace {

Study study_measuring(const std::string& measured) {
    return study_from_json(fmt::format(R"({{
  "format": "syntonon-study", "version": 1, "name": "s", "sample_rate_hz": 48000,
  "curves": [
    {{"id": "a", "name": "Row A", "frequency_hz": [20, 20000], "magnitude_db": [80, 80]}},
    {{"id": "b", "name": "Row B", "frequency_hz": [20, 20000], "magnitude_db": [70, 70]}}],
  "goals": [],
  "channels": [{{"id": "z", "name": "Z", {} "stages": []}}],
  "deliveries": []
}})",
                                       measured))
        .value()
        .study;
}

std::string written(const Study& study) {
    const std::string text = json_from_study(study);
    const auto from = text.find("\"measured\"");
    return from == std::string::npos ? "" : text.substr(from, text.find("\"stages\"") - from);
}

TEST(Measured, OnePositionIsReadAndWrittenAsItsCurvesId) {
    const Study study = study_measuring(R"("measured": "a",)");
    EXPECT_EQ(study.channels[0]->measured, (MeasuredSet{{"a"}}));
    EXPECT_EQ(written(study), "\"measured\": \"a\",\n   ");
    EXPECT_EQ(study_measuring(R"("measured": [{"curve": "a", "weight": 1}],)"), study);
    EXPECT_EQ(written(study_measuring("")), "");
    EXPECT_TRUE(study_measuring(R"("measured": [],)").channels[0]->measured.empty());
}

TEST(Measured, ASetIsReadAndWrittenAsAList) {
    const Study study =
        study_measuring(R"("measured": [{"curve": "a"}, {"curve": "b", "weight": 3, "seat": 7}],)");
    ASSERT_EQ(study.channels[0]->measured.size(), 2u);
    EXPECT_EQ(study.channels[0]->measured[0].weight, 1);
    EXPECT_EQ(study.channels[0]->measured[1].weight, 3);
    const auto again = study_from_json(json_from_study(study));
    EXPECT_EQ(again->study, study);
    EXPECT_NE(written(study).find("\"seat\": 7"), std::string::npos);
}

TEST(Measured, WeightsOutOfRangeAreRefusedWithTheirPlace) {
    const std::string text = json_from_study(
        study_measuring(R"("measured": [{"curve": "a"}, {"curve": "b", "weight": 3}],)"));
    std::string bad = text;
    bad.replace(bad.find("\"weight\": 3"), 11, "\"weight\": -3");
    EXPECT_EQ(study_from_json(bad).error().place, "channels[0].measured[1].weight");
}

TEST(Measured, TheSetIsSeenAsItsPowerAverage) {
    const Study study =
        study_measuring(R"("measured": [{"curve": "a"}, {"curve": "b", "weight": 3}],)");
    const double level = 80 + 10 * std::log10((1 + 3 * 0.1) / 4);
    AnalysisCache cache;
    const auto analysis = cache.analyse(study, *study.channels[0]);
    ASSERT_NE(analysis->measured, nullptr);
    EXPECT_EQ(analysis->measured->name(), "2 positions");
    const ChannelPoint point = point_at(*analysis, 1000);
    EXPECT_NEAR(*point.measured_db, level, 1e-12);
    EXPECT_NEAR(*point.predicted_db, level, 1e-12);
    EXPECT_EQ(cache.analyse(study, *study.channels[0]), analysis);
    Study louder = study;
    louder.channels[0].edit().measured[1].weight = 0;
    EXPECT_NEAR(*point_at(*cache.analyse(louder, *louder.channels[0]), 1000).measured_db, 80,
                1e-12);
}

TEST(Measured, OfOnePositionIsTheCurveItselfNotACopy) {
    const Study study = study_measuring(R"("measured": "b",)");
    const auto measured = measured_of(study, *study.channels[0]).value();
    EXPECT_TRUE(measured->curve.same_as(study.curves[1]));
    EXPECT_EQ(measured->name(), "Row B");
    EXPECT_EQ(measured_of(study_measuring(""), *study_measuring("").channels[0]).value(), nullptr);
}

TEST(Measured, WhatIsMissingIsNamed) {
    const auto place = [](const std::string& measured) {
        const auto problems = problems_of(study_measuring(measured));
        return problems.size() == 1 ? problems[0].place : fmt::format("{}", problems.size());
    };
    EXPECT_EQ(place(R"("measured": "c",)"), "channels[0].measured");
    EXPECT_EQ(place(R"("measured": [{"curve": "a"}, {"curve": "c"}],)"),
              "channels[0].measured[1].curve");
    EXPECT_EQ(place(R"("measured": [{"curve": "a", "weight": 0}, {"curve": "b", "weight": 0}],)"),
              "channels[0].measured");
    EXPECT_EQ(place(R"("measured": [{"curve": "a", "weight": 0}],)"), "channels[0].measured");
    const Study study = study_measuring(R"("measured": "c",)");
    AnalysisCache cache;
    EXPECT_EQ(cache.analyse(study, *study.channels[0])->verdict[0].outcome, Outcome::undecided);
}

TEST(Measured, PositionsAreHandedOnOneByOne) {
    const Study study =
        study_measuring(R"("measured": [{"curve": "a"}, {"curve": "b", "weight": 3}],)");
    const auto seen = seen_of(*measured_of(study, *study.channels[0]).value());
    ASSERT_EQ(seen.positions.size(), 2u);
    EXPECT_EQ(seen.positions[1].weight, 3);
    EXPECT_EQ(seen.positions[1].curve->level_db, (std::vector<double>{70, 70}));
    ASSERT_NE(seen.as_one, nullptr);
    EXPECT_EQ(seen.as_one->level_db,
              (*measured_of(study, *study.channels[0]))->curve->magnitude_db);
    EXPECT_EQ(seen.timing, nullptr) << "no phase to agree on";
}

// Of 0 and 6.02 dB in opposite phase: what powers, levels and vectors come to.
Study opposite(const std::string& average) {
    Study study = study_measuring(R"("measured": [{"curve": "a"}, {"curve": "b"}],)" + average);
    for (const auto& [index, ratio, deg] : {std::tuple(0u, 1.0, 0.0), std::tuple(1u, 2.0, 180.0)}) {
        Curve& curve = study.curves[index].edit();
        curve.magnitude_db.assign(2, 20 * std::log10(ratio));
        curve.phase_deg.assign(2, deg);
    }
    return study;
}

TEST(Measured, TheChannelSaysWhatItsPositionsAreAveragedAs) {
    const auto level_of = [](const Study& study) {
        return (*measured_of(study, *study.channels[0]))->curve->magnitude_db[0];
    };
    EXPECT_NEAR(level_of(opposite("")), 10 * std::log10(2.5), 1e-9);
    EXPECT_NEAR(level_of(opposite(R"("average": "level",)")), 10 * std::log10(2.0), 1e-9);
    EXPECT_NEAR(level_of(opposite(R"("average": "vectors",)")), 20 * std::log10(0.5), 1e-9);
    EXPECT_NE(json_from_study(opposite(R"("average": "level",)")).find("\"average\": \"level\""),
              std::string::npos);
    EXPECT_EQ(json_from_study(opposite("")).find("average"), std::string::npos);
}

TEST(Measured, TheTimingOfASetIsThatOfItsVectors) {
    const Study study = opposite("");
    const auto measured = *measured_of(study, *study.channels[0]);
    ASSERT_TRUE(measured->timing.has_value());
    EXPECT_NEAR(std::abs((*measured->timing)->phase_deg[0]), 180, 1e-9);
    Study without = study;
    without.curves[0].edit().phase_deg.clear();
    EXPECT_FALSE((*measured_of(without, *without.channels[0]))->timing.has_value());
    without.channels[0].edit().average = AverageOf::vectors;
    const auto refused = measured_of(without, *without.channels[0]);
    ASSERT_FALSE(refused.has_value());
    EXPECT_EQ(refused.error().place, "measured[0].curve");
}

TEST(Measured, AnotherAverageIsWorkedOutAnew) {
    MeasuredSets sets;
    Study study = opposite("");
    const auto power = *sets.of(study, *study.channels[0]);
    EXPECT_EQ(*sets.of(study, *study.channels[0]), power);
    study.channels[0].edit().average = AverageOf::level;
    EXPECT_NE(*sets.of(study, *study.channels[0]), power);
}

} // namespace
} // namespace syntonon
