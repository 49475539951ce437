// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/file_names.h"

#include "core/study/kinds.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::string name_of(const StageSpec& spec, std::string_view pattern = usual_pattern) {
    Study study;
    study.name = "Brightwater dome";
    Channel channel;
    channel.name = "Zenith / top";
    Stage stage;
    stage.spec = spec;
    const auto made = design(spec, brief_at(study.sample_rate_hz), Watch());
    const auto name = file_name(pattern, file_words(study, channel, stage, made->filter));
    return name ? *name : to_text(name.error());
}

TEST(FileNames, SayWhatTheFilterIs) {
    WindowedFir band_pass;
    band_pass.band = ClassicalBand::band_pass;
    band_pass.edges_hz = {1000, 2500.5};
    FirSpec fir;
    fir.method = band_pass;
    EXPECT_EQ(name_of(fir), "zenith-top_windowed_band-pass_1000-2500.5hz_101taps_48000hz");
    EquirippleFir equiripple;
    equiripple.by_tolerances = true;
    fir.method = equiripple;
    EXPECT_NE(name_of(fir).find("_equiripple_low-pass_"), std::string::npos) << name_of(fir);
    EXPECT_NE(name_of(fir).find("db_"), std::string::npos) << "the attenuation";
    fir.method = LeastSquaresFir();
    EXPECT_EQ(name_of(fir), "zenith-top_least_squares_4000-6000hz_101taps_48000hz")
        << "edges of its bands, but for the axis' ends";
    EXPECT_EQ(name_of(parametric(ParametricShape::peak, 870, -4.6, 1.4),
                      "{study}_{stage}_{frequency}_{gain}_{length}"),
              "brightwater-dome_peak_870hz_minus4.6db");
}

TEST(FileNames, WordsThatAreEmptyTakeTheirJointAlong) {
    const FileWords words{{"a", "one"}, {"b", ""}, {"c", "Drei Ä"}};
    EXPECT_EQ(file_name("{a}_{b}_{c}", words), "one_drei");
    EXPECT_EQ(file_name("{b}-{a}.{b}", words), "one");
    EXPECT_EQ(file_name("x{a}x", words), "xonex");
}

TEST(FileNames, APatternThatDoesNotWorkIsExplained) {
    const FileWords words{{"a", "../../etc"}, {"b", ""}};
    EXPECT_NE(file_name("{z}", words).error().way_out.find("use a, b"), std::string::npos);
    EXPECT_NE(file_name("{a", words).error().reason.find("left open"), std::string::npos);
    EXPECT_FALSE(file_name("{b}", words));
    EXPECT_FALSE(file_name("", words));
    EXPECT_EQ(file_name("{a}", words), "etc") << "no other folder";
}

} // namespace
} // namespace syntonon
