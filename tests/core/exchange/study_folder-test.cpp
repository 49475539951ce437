// Studies whose impulse responses lie beside them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/study_folder.h"

#include "core/study/origins.h"
#include "tests/support/scratch.h"
#include "tests/support/sounds.h"

#include <chrono>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using test::Scratch;

Study measured_study() {
    Study study = empty_study();
    study.impulses_beside = true;
    study.gates = {{"g", "direct", {-0.01, -0.005, 0.02, 0.03, {}}, {}}};
    for (const char* id : {"row-a", "row-b"}) {
        Measurement measured;
        measured.impulse = {44'100, std::vector<double>(6000), -20};
        measured.impulse.samples[100] = 1.0 / 3;
        measured.impulse.samples[400] = -0.1;
        Curve curve;
        curve.id = curve.name = id;
        curve.origin = CurveOrigin{measured, "g", "", {}};
        study.curves.emplace_back(*worked_out(study, curve));
    }
    return study;
}

TEST(StudyFolder, WhatIsWrittenBesideComesBackTheSame) {
    const Scratch scratch;
    const auto path = scratch.file("dome.syntonon");
    const Study study = measured_study();
    ASSERT_TRUE(save_study_and_responses(study, path));
    EXPECT_TRUE(std::filesystem::exists(scratch.file("dome responses/row-a.wav")));
    EXPECT_EQ(test::bytes_of(path).find("\"samples\""), std::string::npos);
    const auto read = open_study(path);
    ASSERT_TRUE(read.has_value()) << to_text(read.error());
    EXPECT_TRUE(read->warnings.empty()) << read->warnings[0];
    EXPECT_EQ(read->study, study);
}

TEST(StudyFolder, AnIdLeadsToNoOtherFolder) {
    const Scratch scratch;
    std::filesystem::create_directories(scratch.file("inner"));
    const auto path = scratch.file("inner/dome.syntonon");
    Study study = measured_study();
    study.curves[0].edit().id = "../../row-a";
    study.curves[1].edit().id = "..\\..\\Row a";
    ASSERT_TRUE(save_study_and_responses(study, path));
    EXPECT_FALSE(std::filesystem::exists(scratch.file("row-a.wav")));
    EXPECT_EQ(open_study(path)->study, study);
}

TEST(StudyFolder, AnUnchangedFileIsLeftAlone) {
    const Scratch scratch;
    const auto path = scratch.file("dome.syntonon");
    ASSERT_TRUE(save_study_and_responses(measured_study(), path));
    const auto file = scratch.file("dome responses/row-a.wav");
    const auto old = std::filesystem::file_time_type::clock::now() - std::chrono::hours(5);
    std::filesystem::last_write_time(file, old);
    ASSERT_TRUE(save_study_and_responses(measured_study(), path));
    EXPECT_EQ(std::filesystem::last_write_time(file), old);
}

TEST(StudyFolder, AMissingFileIsSaidAndTheCurveStays) {
    const Scratch scratch;
    const auto path = scratch.file("dome.syntonon");
    const Study study = measured_study();
    ASSERT_TRUE(save_study_and_responses(study, path));
    std::filesystem::remove(scratch.file("dome responses/row-b.wav"));
    const auto read = open_study(path);
    ASSERT_TRUE(read.has_value());
    ASSERT_EQ(read->warnings.size(), 1u);
    EXPECT_NE(read->warnings[0].find("curves[1].impulse.file"), std::string::npos);
    EXPECT_NE(read->warnings[0].find("import it anew"), std::string::npos);
    const Curve& curve = *read->study.curves[1];
    EXPECT_TRUE(curve.origin->measured->is_missing());
    EXPECT_EQ(curve.delay_s, study.curves[1]->delay_s);
    const CurveReader was(*study.curves[1]), is(curve);
    EXPECT_NEAR(is.magnitude_db_at(1000), was.magnitude_db_at(1000), 0.05);
    // Saved once more it still says where its file was.
    ASSERT_TRUE(save_study_and_responses(read->study, path));
    EXPECT_EQ(open_study(path)->study, read->study);
}

TEST(StudyFolder, AChangedFileIsTakenAsItIsNowAndSaid) {
    const Scratch scratch;
    const auto path = scratch.file("dome.syntonon");
    ASSERT_TRUE(save_study_and_responses(measured_study(), path));
    std::vector<double> other(6000);
    other[200] = 0.5;
    test::write_sound(scratch.file("dome responses/row-a.wav"), other, {44'100, 1, 0});
    const auto read = open_study(path);
    ASSERT_TRUE(read.has_value());
    ASSERT_EQ(read->warnings.size(), 1u);
    EXPECT_NE(read->warnings[0].find("has changed"), std::string::npos);
    EXPECT_NEAR(read->study.curves[0]->delay_s, 180 / 44.1e3, 1e-9);
}

TEST(StudyFolder, AFolderThatCannotBeMadeIsRefusedBeforeTheStudyIsWritten) {
    const Scratch scratch;
    static_cast<void>(scratch.write("dome responses", "a file"));
    const auto saved = save_study_and_responses(measured_study(), scratch.file("dome.syntonon"));
    ASSERT_FALSE(saved.has_value());
    EXPECT_FALSE(std::filesystem::exists(scratch.file("dome.syntonon")));
}

} // namespace
} // namespace syntonon
