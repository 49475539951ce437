// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/response_files.h"

#include "core/exchange/study_folder.h"
#include "core/study/origins.h"
#include "tests/support/scratch.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

using test::Scratch;

Study study_of(std::initializer_list<std::size_t> lengths) {
    Study study = empty_study();
    int number = 0;
    for (const std::size_t length : lengths) {
        Measurement measured;
        measured.impulse = {44'100, std::vector<double>(length), -20};
        measured.impulse.samples[100] = 1.0 / 3;
        measured.harmonics.push_back({2, {100, 200}, {-40, -41}, {-90, -90}});
        Curve curve;
        curve.id = curve.name = "c" + std::to_string(++number);
        curve.origin = CurveOrigin{measured, "", "", {}};
        study.curves.emplace_back(*worked_out(study, curve));
    }
    return study;
}

TEST(ResponseFiles, LongResponsesAreKeptApartAndComeBack) {
    const Scratch scratch;
    ResponseFiles files(scratch.folder(), "kept");
    const Study study = study_of({6000, 500, 7000});
    const auto apart = files.kept_apart(study);
    ASSERT_TRUE(apart) << to_text(apart.error());
    EXPECT_TRUE(apart->curves[0]->origin->measured->is_missing());
    EXPECT_FALSE(apart->curves[1]->origin->measured->is_missing()) << "a short one stays";
    ASSERT_TRUE(save_study(*apart, scratch.file("copy.syntonon")));
    const auto read = open_study(scratch.file("copy.syntonon"));
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_TRUE(read->warnings.empty());
    EXPECT_EQ(read->study, study);
}

TEST(ResponseFiles, EachIsWrittenOnceAndGoesWhenItIsNoLongerUsed) {
    const Scratch scratch;
    ResponseFiles files(scratch.folder(), "kept");
    Study study = study_of({6000, 7000});
    ASSERT_TRUE(files.kept_apart(study));
    const auto first = scratch.file("kept/1.wav"), second = scratch.file("kept/2.wav");
    const auto written = std::filesystem::last_write_time(first);
    study.curves[0].edit().name = "another";
    study.curves.erase(study.curves.begin() + 1);
    const auto again = files.kept_apart(study);
    ASSERT_TRUE(again);
    EXPECT_EQ(again->curves[0]->origin->measured->file.path, "kept/1.wav");
    EXPECT_EQ(std::filesystem::last_write_time(first), written);
    EXPECT_TRUE(std::filesystem::exists(second)) << "the copy before may still name it";
    files.remove_unused();
    EXPECT_FALSE(std::filesystem::exists(second));
    EXPECT_TRUE(std::filesystem::exists(first));
    std::filesystem::remove(first);
    const auto mended = files.kept_apart(study);
    ASSERT_TRUE(mended);
    EXPECT_TRUE(std::filesystem::exists(
        scratch.file(mended->curves[0]->origin->measured->file.path.c_str())))
        << "what somebody removed is written again";
    files.remove_all();
    EXPECT_FALSE(std::filesystem::exists(scratch.file("kept")));
    EXPECT_TRUE(files.kept_apart(study)) << "and begins anew";
}

TEST(ResponseFiles, AFolderThatCannotBeMadeIsSaid) {
    const auto written = write_response("/proc/nowhere", "x/1.wav", {48'000, {1}, 0});
    ASSERT_FALSE(written);
    EXPECT_NE(to_text(written.error()).find("/proc/nowhere/x: cannot be made"), std::string::npos)
        << to_text(written.error());
}

} // namespace
} // namespace syntonon
