// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficients.h"
#include "core/exchange/deliver.h"
#include "core/study/kinds.h"

#include "demo/brightwater.h"
#include "tests/support/scratch.h"

#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Briefs briefs;

// Without the channel that branches and returns.
Study sections_only() {
    Study study = brightwater_study();
    study.channels.resize(3);
    return study;
}

CoefficientSet demo_set() {
    const Study study = brightwater_study();
    return coefficients_of(study, *study.channels[0], briefs).value();
}

struct LayoutCase {
    FileFormat format;
    NumberType number;
    FeedbackSign feedback;
    Normalisation normalisation;
};

class Layouts : public testing::TestWithParam<LayoutCase> {
protected:
    CoefficientLayout layout() const {
        const auto& p = GetParam();
        CoefficientLayout l;
        l.format = p.format;
        l.number = p.number;
        l.feedback = p.feedback;
        l.normalisation = p.normalisation;
        l.digits = p.number == NumberType::real32 ? 9 : 17;
        l.order = p.normalisation == Normalisation::b0_one
                      ? std::vector{Term::gain, Term::a1, Term::a2, Term::b1, Term::b2}
                      : std::vector{Term::a0, Term::a1, Term::a2, Term::b2, Term::b1, Term::b0};
        return l;
    }
};

TEST_P(Layouts, ReadBackAsTheDesign) {
    const CoefficientSet set = demo_set();
    const std::string text = coefficient_text(set, layout()).value();
    const auto read = read_coefficients(text);
    ASSERT_TRUE(read) << to_text(read.error()) << "\n" << text;
    EXPECT_EQ(read->layout, layout());
    EXPECT_EQ(read->set.study, "Brightwater dome");
    EXPECT_EQ(read->set.channel, "Zenith");
    const Deviation deviation = deviation_between(set, read->set).value();
    // A float keeps 24 bits of numbers up to 2; scaling by b0 costs a rounding each way.
    const double allowed = GetParam().number == NumberType::real32             ? 2.5e-7
                           : GetParam().normalisation == Normalisation::b0_one ? 1e-15
                                                                               : 0;
    EXPECT_LE(deviation.greatest_coefficient, allowed);
    if (GetParam().number == NumberType::real32) {
        EXPECT_GT(deviation.greatest_coefficient, 0) << "a float cannot be the double";
        EXPECT_GT(deviation.section, 0u);
        EXPECT_GT(deviation.greatest_db, 0);
    }
}

std::vector<LayoutCase> all_layouts() {
    std::vector<LayoutCase> cases;
    for (const FileFormat format : {FileFormat::csv, FileFormat::json, FileFormat::c_header}) {
        for (const NumberType number : {NumberType::real64, NumberType::real32}) {
            for (const FeedbackSign sign : {FeedbackSign::subtracted, FeedbackSign::added}) {
                for (const Normalisation normalisation :
                     {Normalisation::a0_one, Normalisation::b0_one, Normalisation::a0_half}) {
                    cases.push_back({format, number, sign, normalisation});
                }
            }
        }
    }
    return cases;
}
INSTANTIATE_TEST_SUITE_P(All, Layouts, testing::ValuesIn(all_layouts()), [](const auto& tested) {
    const LayoutCase& p = tested.param;
    return fmt::format("{}_{}_{}_{}", key_of(p.format), key_of(p.number), key_of(p.feedback),
                       key_of(p.normalisation));
});

TEST(Coefficients, TheHeadSaysTheConvention) {
    CoefficientLayout layout;
    layout.feedback = FeedbackSign::added;
    layout.digits = 6;
    const std::string text =
        coefficient_text({"S", "C", 48000, Cascade{{Biquad{0.5, 0.25, 0.125, -0.5, 0.25}}}}, layout)
            .value();
    for (const char* line : {"# study: S", "# sample_rate_hz: 48000", "# sections: 1",
                             "# feedback: added", "+ a1 y[n-1] + a2 y[n-2]",
                             "# normalisation: a0_one", "# digits: 6", "# order: b0 b1 b2 a1 a2"}) {
        EXPECT_NE(text.find(line), std::string::npos) << line;
    }
    EXPECT_NE(text.find("1,0.5,0.25,0.125,0.5,-0.25\n"), std::string::npos) << text;
}

TEST(Coefficients, NormalisationsAreWhatTheyAreCalled) {
    const CoefficientSet set{"S", "C", 48000, Cascade{{Biquad{0.5, 0.25, 0.125, -0.5, 0.25}}}};
    CoefficientLayout layout;
    layout.normalisation = Normalisation::a0_half;
    layout.order = {Term::a0, Term::a1, Term::a2, Term::b0, Term::b1, Term::b2};
    EXPECT_NE(coefficient_text(set, layout)->find("1,0.5,-0.25,0.125,0.25,0.125,0.0625"),
              std::string::npos);
    layout.normalisation = Normalisation::b0_one;
    layout.order = {Term::gain, Term::b0, Term::b1, Term::b2, Term::a1, Term::a2};
    EXPECT_NE(coefficient_text(set, layout)->find("1,0.5,1,0.5,0.25,-0.5,0.25"), std::string::npos);
}

// Sections, a delay and two FIRs, however they follow one another.
TEST_P(Layouts, ReadBackDelayAndTaps) {
    Study study = sections_only();
    const auto add = [&](StageSpec spec) {
        Channel& channel = study.channels[0].edit();
        Stage stage;
        stage.spec = std::move(spec);
        give_fresh_ids(stage, channel.stages);
        channel.stages.emplace(channel.stages.begin() + 1, std::move(stage));
    };
    add(TapsSpec{std::make_shared<const std::vector<double>>(std::vector{0.25, -0.5, 1.0 / 3})});
    DelaySpec delay;
    delay.value = 37;
    add(delay);
    add(TapsSpec{std::make_shared<const std::vector<double>>(std::vector{1.0, 0.1})});
    const CoefficientSet set = coefficients_of(study, *study.channels[0], briefs).value();
    EXPECT_EQ(set.delay_samples, 37U);
    ASSERT_EQ(set.taps.size(), 4U);
    EXPECT_NEAR(set.taps[1], -0.475, 1e-15) << "convolved";
    const std::string text = coefficient_text(set, layout()).value();
    const auto read = read_coefficients(text);
    ASSERT_TRUE(read) << to_text(read.error()) << "\n" << text;
    EXPECT_EQ(read->set.delay_samples, 37U);
    const Deviation deviation = deviation_between(set, read->set).value();
    EXPECT_LT(deviation.greatest_coefficient, layout().number == NumberType::real32 ? 2e-7 : 1e-15);
    CoefficientSet other = read->set;
    other.delay_samples = 36;
    EXPECT_FALSE(deviation_between(set, other));
    other = read->set;
    other.taps[2] += 1e-3;
    EXPECT_EQ(deviation_between(set, other)->term, "tap");
    EXPECT_EQ(deviation_between(set, other)->section, 3U);
    // One tap less than its head says.
    const std::size_t last = text.rfind(GetParam().format == FileFormat::csv ? "\n3," : ",\n    ");
    if (GetParam().format != FileFormat::json) {
        const auto cut = read_coefficients(text.substr(0, last + 1));
        ASSERT_FALSE(cut);
        EXPECT_EQ(cut.error().place, "taps") << text.substr(0, last + 1);
    }
}

TEST(Coefficients, FewDigitsShowInTheDeviation) {
    const CoefficientSet set = demo_set();
    CoefficientLayout layout;
    layout.digits = 4;
    const auto read = read_coefficients(*coefficient_text(set, layout));
    const Deviation deviation = deviation_between(set, read->set).value();
    EXPECT_GT(deviation.greatest_coefficient, 1e-5);
    EXPECT_GT(deviation.greatest_db, 0.1) << "four digits ruin a section at 24 Hz, and it is said";
}

TEST(Coefficients, ACompilerTakesTheHeader) {
    const test::Scratch scratch;
    CoefficientLayout layout;
    layout.format = FileFormat::c_header;
    layout.number = NumberType::real32;
    layout.digits = 9;
    // A whole number needs its point before the f; a name may try to end the comment.
    const CoefficientSet set{"3 */ evil", "C\nD", 48000,
                             Cascade{{Biquad{1, -2, 1, -1.5, 0.6}, Biquad{}}}};
    scratch.write("set.h", *coefficient_text(set, layout));
    scratch.write("empty.h", *coefficient_text({"E", "F", 48000, {}}, layout));
    scratch.write("taps.h", *coefficient_text({"T", "taps", 48000, {}, 12, {0.5, -1}}, layout));
    scratch.write("main.c",
                  "#include \"set.h\"\n#include \"set.h\"\n#include \"empty.h\"\n#include "
                  "\"taps.h\"\nint main(void) { "
                  "return STUDY_3_EVIL_C_D_SECTIONS == 2 && study_3_evil_c_d[0][1] == -2.0f && "
                  "E_F_SECTIONS == 0 && e_f[0][0] == 1.0f && t_taps[0][0] == 1.0f && "
                  "T_TAPS_DELAY_SAMPLES == 12 && T_TAPS_TAPS == 2 && t_taps_taps[1] == -1.0f "
                  "? 0 : 1; }\n");
    const std::string folder = scratch.folder().string();
    ASSERT_EQ(std::system(("cc -std=c99 -pedantic -Wall -Wextra -Werror -o " + folder + "/main "
                           + folder + "/main.c")
                              .c_str()),
              0)
        << test::bytes_of(scratch.file("set.h"));
    EXPECT_EQ(std::system((folder + "/main").c_str()), 0);
    EXPECT_TRUE(
        read_coefficients(test::bytes_of(scratch.file("empty.h")))->set.cascade.sections.empty());
}

TEST(Coefficients, RefuseLayoutsThatLose) {
    const auto place_of = [](const std::function<void(CoefficientLayout&)>& change) {
        CoefficientLayout layout;
        change(layout);
        const auto ok = check(layout);
        return ok ? std::string("fine") : ok.error().place;
    };
    EXPECT_EQ(place_of([](auto&) {}), "fine");
    EXPECT_EQ(place_of([](auto& l) { l.order.pop_back(); }), "order");
    EXPECT_EQ(place_of([](auto& l) { l.order.push_back(Term::b0); }), "order");
    EXPECT_EQ(place_of([](auto& l) { l.order.push_back(Term::gain); }), "order");
    EXPECT_EQ(place_of([](auto& l) { l.normalisation = Normalisation::b0_one; }), "order");
    EXPECT_EQ(place_of([](auto& l) { l.digits = 0; }), "digits");
    EXPECT_EQ(place_of([](auto& l) { l.digits = 18; }), "digits");
    EXPECT_FALSE(order_from_text("b0 b1 c2"));
    EXPECT_EQ(order_text(*order_from_text(" b0,b1  b2 a1 a2 ")), "b0 b1 b2 a1 a2");
    CoefficientLayout by_b0;
    by_b0.normalisation = Normalisation::b0_one;
    by_b0.order = {Term::gain, Term::b1, Term::b2, Term::a1, Term::a2};
    EXPECT_EQ(
        coefficient_text({"S", "C", 48000, Cascade{{Biquad{0, 1, 0, 0, 0}}}}, by_b0).error().place,
        "section 1");
}

TEST(Coefficients, ReadingSurvivesManglingAndCuts) {
    for (const FileFormat format : {FileFormat::csv, FileFormat::json, FileFormat::c_header}) {
        CoefficientLayout layout;
        layout.format = format;
        const std::string text = *coefficient_text(demo_set(), layout);
        for (std::size_t cut = 0; cut < text.size(); cut += 3) {
            const auto read = read_coefficients(text.substr(0, cut));
            if (read) { // only what follows the numbers may be missing
                EXPECT_EQ(read->set.cascade.sections.size(), 6u) << cut;
            }
            std::string mangled = text;
            mangled[cut] = '\xfe';
            if (const auto other = read_coefficients(mangled); !other) {
                EXPECT_FALSE(other.error().reason.empty());
            }
        }
    }
    EXPECT_FALSE(read_coefficients("hello"));
}

TEST(Coefficients, WhatNoFileCanHoldIsRefusedBothWays) {
    CoefficientSet set = demo_set();
    set.cascade.sections[1].b1 = 1e39; // no float
    CoefficientLayout layout;
    ASSERT_TRUE(coefficient_text(set, layout));
    layout.number = NumberType::real32;
    layout.digits = 9;
    const auto refused = coefficient_text(set, layout);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "section 2");
    EXPECT_NE(refused.error().reason.find("b1"), std::string::npos);
    for (const FileFormat format : {FileFormat::csv, FileFormat::json, FileFormat::c_header}) {
        layout.format = format;
        std::string text = coefficient_text(demo_set(), layout).value();
        const auto sections = text.find("[4][5]") != std::string::npos ? text.find("[4][5]") : 0;
        const auto at = text.find(format == FileFormat::csv    ? "\n1,"
                                  : format == FileFormat::json ? "\"b0\": "
                                                               : "{",
                                  sections + 8);
        const auto number =
            text.find_first_of("0123456789", format == FileFormat::csv ? at + 3 : at + 5);
        text.insert(number, "1" + std::string(45, '7'));
        const auto read = read_coefficients(text);
        ASSERT_FALSE(read) << text;
        EXPECT_NE(read.error().reason.find("too large"), std::string::npos)
            << to_text(read.error()) << "\n"
            << text;
    }
}

TEST(Coefficients, NameTheStageThatCannotBeExported) {
    Study study = brightwater_study();
    std::get<ParametricSpec>(study.channels[0].edit().stages[2].edit().spec.edit()).frequency_hz =
        1e6;
    EXPECT_EQ(coefficients_of(study, *study.channels[0], briefs).error().place,
              "channel zenith, stages[2].frequency_hz");
    study.channels[0].edit().stages[2].edit().enabled = false;
    EXPECT_EQ(coefficients_of(study, *study.channels[0], briefs)->cascade.sections.size(), 5u);
}

TEST(Deliver, FileNamesFollowFromStudyChannelAndLayout) {
    Study study = empty_study();
    study.name = "Brightwater dome";
    study.channels[0].edit().name = "Zenith";
    const auto name_of = [&](const Delivery& delivery) {
        return plan_delivery(study, delivery, "", briefs)->front().path.string();
    };
    EXPECT_EQ(name_of(standard_deliveries()[3]), "brightwater-dome_zenith_c-float.h");
    study.name = "../../etc";
    study.channels[0].edit().name = "a/b";
    Delivery delivery = standard_deliveries()[0];
    delivery.name = "..";
    EXPECT_EQ(name_of(delivery), "etc_a-b_unnamed.csv") << "no name leads out of the folder";
}

TEST(Deliver, NeverOverwritesSilently) {
    const test::Scratch scratch;
    const Study study = sections_only();
    const auto files =
        plan_delivery(study, standard_deliveries()[0], scratch.file("new/folder"), briefs).value();
    ASSERT_EQ(files.size(), 3u);
    EXPECT_TRUE(existing_among(files).empty());
    const auto written = write_delivery(files, Existing::refuse);
    ASSERT_TRUE(written) << to_text(written.error());
    EXPECT_EQ(written->at(0).deviation->greatest_coefficient, 0);
    EXPECT_EQ(existing_among(files).size(), 3u);
    std::filesystem::remove(files[0].path);
    scratch.write("new/folder/brightwater-dome_sunrise_table.csv", "precious");
    const auto refused = write_delivery(files, Existing::refuse);
    ASSERT_FALSE(refused);
    EXPECT_EQ(test::bytes_of(files[1].path), "precious");
    EXPECT_FALSE(std::filesystem::exists(files[0].path))
        << "nothing is written when one file is there";
    EXPECT_TRUE(write_delivery(files, Existing::replace));
    EXPECT_NE(test::bytes_of(files[1].path), "precious");
}

TEST(Deliver, RefusesNetworksByTheirStage) {
    Study study = brightwater_study();
    const auto modelled = plan_delivery(study, standard_deliveries()[0], "x", briefs);
    ASSERT_FALSE(modelled);
    EXPECT_NE(to_text(modelled.error()).find("multiple of the rate"), std::string::npos);
    Chain& aurora = study.channels[4].edit().stages;
    aurora.erase(aurora.begin()); // its ladder
    const auto files = plan_delivery(study, standard_deliveries()[0], "x", briefs);
    ASSERT_FALSE(files);
    EXPECT_NE(to_text(files.error()).find("stages[0]"), std::string::npos);
    EXPECT_NE(files.error().reason.find("a sum of 2 branches has no"), std::string::npos)
        << to_text(files.error());
}

TEST(Deliver, SaysThatSectionsOfWhatSaturatesAreThoseOfSmallSignals) {
    Study study = sections_only();
    const auto says_so = [&] {
        const auto files = plan_delivery(study, standard_deliveries()[0], "x", briefs).value();
        return files.at(0).text.find("signals: small ones") != std::string::npos;
    };
    EXPECT_FALSE(says_so());
    LadderSpec ladder;
    ladder.oversampling = 1;
    Stage stage;
    stage.id = "ladder";
    stage.spec = ladder;
    study.channels[0].edit().stages.emplace_back(stage);
    EXPECT_TRUE(says_so());
    ladder.saturating = false;
    stage.spec = ladder;
    study.channels[0].edit().stages.back() = stage;
    EXPECT_FALSE(says_so());
}

TEST(Deliver, RefusesChannelsThatWouldShareAFile) {
    Study study = sections_only();
    study.channels[1].edit().name = "zenith!";
    EXPECT_FALSE(plan_delivery(study, standard_deliveries()[0], "x", briefs));
    Delivery missing = standard_deliveries()[0];
    missing.channels = {"nobody"};
    EXPECT_FALSE(plan_delivery(study, missing, "x", briefs));
}

TEST(Deliver, AFileInPlaceOfTheFolderIsSaid) {
    const test::Scratch scratch;
    const auto taken = scratch.write("taken", "x");
    const auto files =
        plan_delivery(sections_only(), standard_deliveries()[0], taken, briefs).value();
    const auto written = write_delivery(files, Existing::refuse);
    ASSERT_FALSE(written);
    EXPECT_NE(written.error().place.find("taken"), std::string::npos);
}

// The second file's place is a folder: the first stays as it was.
TEST(Deliver, AllFilesOrNone) {
    const test::Scratch scratch;
    const auto files =
        plan_delivery(sections_only(), standard_deliveries()[0], scratch.folder(), briefs).value();
    scratch.write(files[0].path.filename().string(), "old");
    std::filesystem::create_directory(files[1].path);
    const auto written = write_delivery(files, Existing::replace);
    ASSERT_FALSE(written);
    EXPECT_EQ(test::bytes_of(files[0].path), "old");
    EXPECT_FALSE(std::filesystem::exists(files[2].path));
}

} // namespace
} // namespace syntonon
