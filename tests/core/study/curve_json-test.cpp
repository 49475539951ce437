// Impulse responses, gates and microphones in the study file.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/curve_json.h"

#include "core/study/origins.h"
#include "core/study/study_json.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::string with(const std::string& curves, const std::string& more = "") {
    return R"({"format": "syntonon-study", "version": 1, "name": "s", "sample_rate_hz": 48000,
  "curves": [)"
           + curves + "]," + more + R"("goals": [], "channels": [], "deliveries": []})";
}

constexpr const char* gates =
    R"("gates": [{"id": "g", "name": "direct", "from_s": -0.001, "full_from_s": -0.0005,
       "full_to_s": 0.004, "to_s": 0.006, "cycles": 6, "colour": "?"}],)";

std::string place_of(const std::string& text) {
    const auto read = study_from_json(text);
    return read ? "" : read.error().place;
}

TEST(CurveJson, AnImpulseResponseIsWorkedOutAsItIsReadAndKeptAsItIs) {
    const auto read = study_from_json(with(
        R"({"id": "a", "impulse": {"sample_rate_hz": 44100, "begins_at": -2,
            "samples": [0, 0.25, 1, 0.5, 0, 0, 0, 0], "seat": 3}})"));
    ASSERT_TRUE(read.has_value()) << to_text(read.error());
    const Curve& curve = *read->study.curves[0];
    ASSERT_TRUE(curve.origin.has_value());
    EXPECT_EQ(curve.origin->measured->impulse.begins_at, -2);
    EXPECT_NEAR(curve.delay_s, 0, 0.5 / 44100);
    EXPECT_EQ(curve.high_hz(), 22050);
    EXPECT_NEAR(curve.magnitude_db.back(), 20 * std::log10(0.25), 1e-9); // 1 - 0.25 - 0.5
    const std::string text = json_from_study(read->study);
    EXPECT_NE(text.find("\"seat\": 3"), std::string::npos);
    EXPECT_EQ(text.find("magnitude_db"), std::string::npos) << "only what was measured is kept";
    EXPECT_EQ(study_from_json(text)->study, read->study);
}

TEST(CurveJson, LongOnesAreKeptCompactAndLoseNothing) {
    for (const double factor : {1.0, 1.0 / 3}) { // a third does not fit single precision
        Study study = empty_study();
        Measurement measured;
        for (int n = 0; n < 5000; ++n) {
            measured.impulse.samples.push_back(factor * std::ldexp(1.0, -(n % 100)));
        }
        Curve curve;
        curve.id = curve.name = "a";
        curve.origin = CurveOrigin{measured, "", "", {}};
        study.curves.emplace_back(*worked_out(study, curve));
        const std::string text = json_from_study(study);
        EXPECT_NE(text.find(factor == 1 ? "\"f32\"" : "\"f64\""), std::string::npos);
        EXPECT_EQ(study_from_json(text)->study, study);
    }
}

TEST(CurveJson, GatesAreReadWrittenAndUsed) {
    const auto read = study_from_json(
        with(R"({"id": "a", "gate": "g", "middle_s": 0.001, "impulse": {"sample_rate_hz": 48000,
             "samples": [0, 0, 0, 1, 0, 0, 0, 0]}})",
             gates));
    ASSERT_TRUE(read.has_value()) << to_text(read.error());
    ASSERT_EQ(read->study.gates.size(), 1u);
    EXPECT_EQ(read->study.gates[0].gate, (Gate{-0.001, -0.0005, 0.004, 0.006, 6}));
    EXPECT_EQ(read->study.curves[0]->delay_s, 0.001);
    EXPECT_EQ(study_from_json(json_from_study(read->study))->study, read->study);
    EXPECT_EQ(read->warnings.size(), 1u); // the colour, which is kept
}

TEST(CurveJson, AMicrophoneIsTakenOutOfAResponseWhichIsKeptAsItCame) {
    const auto read = study_from_json(with(
        R"({"id": "a", "microphone": "m", "frequency_hz": [20, 20000], "magnitude_db": [70, 70]})",
        R"("microphones": [{"id": "m", "frequency_hz": [20, 20000], "magnitude_db": [1, 1]}],)"));
    ASSERT_TRUE(read.has_value()) << to_text(read.error());
    EXPECT_EQ(read->study.curves[0]->magnitude_db, (std::vector<double>{69, 69}));
    const std::string text = json_from_study(read->study);
    EXPECT_EQ(study_from_json(text)->study, read->study);
    EXPECT_NE(text.find("70"), std::string::npos);
}

TEST(CurveJson, OfAFileThatIsNotReadTheKeptPointsStand) {
    const auto read = study_from_json(with(
        R"({"id": "a", "impulse": {"sample_rate_hz": 48000, "file": "a.wav", "digest": "xxh3-1",
            "channel": 2}, "delay_s": 0.01, "frequency_hz": [20, 20000], "magnitude_db": [3, 3]})"));
    ASSERT_TRUE(read.has_value()) << to_text(read.error());
    const Curve& curve = *read->study.curves[0];
    EXPECT_TRUE(curve.origin->measured->is_missing());
    EXPECT_EQ(curve.magnitude_db, (std::vector<double>{3, 3}));
    EXPECT_EQ(curve.delay_s, 0.01);
    EXPECT_EQ(study_from_json(json_from_study(read->study))->study, read->study);
}

TEST(CurveJson, HarmonicsOfARecordedSweepAreKept) {
    const auto with_harmonic = [](const char* harmonic) {
        return with(R"({"id": "a", "impulse": {"sample_rate_hz": 48000, "samples": [0, 1, 0],
                        "harmonics": [)"
                    + std::string(harmonic) + "]}}");
    };
    const auto read = study_from_json(with_harmonic(
        R"({"order": 3, "frequency_hz": [100, 200], "level_db": [-50, -60.5],
            "noise_db": [-90, -91], "drive": 2})"));
    ASSERT_TRUE(read) << to_text(read.error());
    const Measurement& measured = *read->study.curves[0]->origin->measured;
    ASSERT_EQ(measured.harmonics.size(), 1u);
    EXPECT_EQ(measured.harmonics[0].order, 3);
    EXPECT_EQ(measured.harmonics[0].level_db, (std::vector{-50.0, -60.5}));
    const std::string text = json_from_study(read->study);
    EXPECT_NE(text.find("\"drive\": 2"), std::string::npos);
    EXPECT_EQ(study_from_json(text)->study, read->study);
    EXPECT_EQ(place_of(with_harmonic(R"({"order": 1, "frequency_hz": [1], "level_db": [0],
                                         "noise_db": [0]})")),
              "curves[0].impulse.harmonics[0].order");
    EXPECT_EQ(place_of(with_harmonic(R"({"order": 2, "frequency_hz": [2, 1], "level_db": [0, 0],
                                         "noise_db": [0, 0]})")),
              "curves[0].impulse.harmonics[0].frequency_hz");
    EXPECT_EQ(place_of(with_harmonic(R"({"order": 2, "frequency_hz": [1, 2], "level_db": [0],
                                         "noise_db": [0, 0]})")),
              "curves[0].impulse.harmonics[0].level_db");
    const char* not_a_number = R"({"order": 2, "frequency_hz": [1], "level_db": [0],
                                   "noise_db": {"f64": "AAAAAAAA+H8="}})";
    EXPECT_TRUE(place_of(with_harmonic(not_a_number))
                    .starts_with("curves[0].impulse.harmonics[0].noise_db"));
}

TEST(CurveJson, WhatIsWrongIsRefusedWithItsPlace) {
    const auto impulse = [](const char* samples) {
        return with(R"({"id": "a", "impulse": {"sample_rate_hz": 48000, "samples": )"
                    + std::string(samples) + "}}");
    };
    EXPECT_EQ(place_of(impulse("[]")), "curves[0].impulse.samples");
    EXPECT_EQ(place_of(impulse("[0, 0]")), "curves[0].impulse.samples");
    EXPECT_EQ(place_of(impulse("[1e999]")), "curves[0].impulse.samples[0]");
    EXPECT_EQ(place_of(impulse(R"({"f32": "abc"})")), "curves[0].impulse.samples.f32");
    EXPECT_EQ(
        place_of(with(
            R"({"id": "a", "gate": "x", "impulse": {"sample_rate_hz": 48000, "samples": [1]}})")),
        "curves[0].gate");
    EXPECT_EQ(place_of(with(
                  R"({"id": "a", "microphone": "x", "frequency_hz": [20], "magnitude_db": [1]})")),
              "curves[0].microphone");
    EXPECT_EQ(place_of(with("", R"("gates": [{"id": "g", "from_s": 1, "full_from_s": 0,
                                  "full_to_s": 2, "to_s": 3}],)")),
              "gates[0].full_from_s");
}

TEST(CurveJson, WhenOneCannotBeWorkedOutNoneIsChanged) {
    Study study =
        study_from_json(with(
                            R"({"id": "a", "impulse": {"sample_rate_hz": 48000, "samples": [1]}},
           {"id": "b", "impulse": {"sample_rate_hz": 48000, "samples": [1, 0, 0, 0.5]}})",
                            gates))
            ->study;
    const Study before = study;
    study.curves[0].edit().origin->gate = "g";
    study.curves[1].edit().origin->gate = "nowhere";
    const auto refused = work_out_curves(study, [](const Curve&) { return true; });
    ASSERT_FALSE(refused.has_value());
    EXPECT_EQ(refused.error().place, "curves[1].gate");
    EXPECT_EQ(study.curves[0]->magnitude_db, before.curves[0]->magnitude_db);
}

} // namespace
} // namespace syntonon
