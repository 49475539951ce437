// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/found_coefficients.h"

#include "core/exchange/deliver.h"
#include "core/study/kinds.h"
#include "core/study/repeat.h"
#include "demo/brightwater.h"

#include <gtest/gtest.h>

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using Numbers = std::vector<double>;

// A resonance at 1 kHz of 48 kHz: with the other sign of the a's a pole lies outside.
constexpr const char* peak_b = "1.0128 -1.9683 0.9720";
constexpr const char* peak_a = "-1.9683 0.9848";

FoundCoefficients found(std::string_view text, const CoefficientReading& reading = {}) {
    const auto got = found_coefficients(text, reading);
    EXPECT_TRUE(got) << text << "\n" << (got ? "" : to_text(got.error()));
    return got.value_or(FoundCoefficients());
}
std::string refusal(std::string_view text, const CoefficientReading& reading = {}) {
    const auto got = found_coefficients(text, reading);
    EXPECT_FALSE(got) << text;
    return got ? std::string() : to_text(got.error());
}
std::string notes_of(const FoundCoefficients& found) {
    return fmt::format("{}", fmt::join(found.notes, " "));
}
void expect_peak(const FoundCoefficients& got, double scale = 1) {
    ASSERT_EQ(got.fractions.size(), 1u);
    const Coefficients& section = got.fractions[0];
    ASSERT_EQ(section.numerator.size(), 3u);
    ASSERT_EQ(section.denominator.size(), 3u);
    const double a0 = section.denominator[0];
    EXPECT_NEAR(section.numerator[0] / a0, 1.0128, 1e-4 * scale);
    EXPECT_NEAR(section.numerator[2] / a0, 0.9720, 1e-4 * scale);
    EXPECT_NEAR(section.denominator[1] / a0, -1.9683, 1e-4 * scale);
    EXPECT_NEAR(section.denominator[2] / a0, 0.9848, 1e-4 * scale);
}

TEST(FoundCoefficients, ATableOfFiveColumns) {
    const auto got = found(fmt::format("{0} {1}\n{0} {1}\n", peak_b, peak_a));
    EXPECT_EQ(got.as, CoefficientsAs::sections);
    EXPECT_EQ(got.fractions.size(), 2u);
    EXPECT_EQ(got.convention.feedback, FeedbackSign::subtracted);
    EXPECT_NE(notes_of(got).find("taken as subtracted: added, a pole would be at radius 2.3"),
              std::string::npos)
        << notes_of(got);
}

TEST(FoundCoefficients, TheStableSignIsTakenWhereNoneIsSaid) {
    const auto got = found(fmt::format("{} 1.9683 -0.9848", peak_b));
    EXPECT_EQ(got.convention.feedback, FeedbackSign::added);
    EXPECT_FALSE(got.sign.is_suspect());
    expect_peak(got);
}

TEST(FoundCoefficients, ASaidSignIsKeptAndSuspected) {
    const auto got =
        found(fmt::format("{} 1.9683 -0.9848", peak_b), {.feedback = FeedbackSign::subtracted});
    EXPECT_EQ(got.convention.feedback, FeedbackSign::subtracted);
    EXPECT_TRUE(got.sign.is_suspect());
    EXPECT_NEAR(got.sign.radius, (1.9683 + std::sqrt(1.9683 * 1.9683 + 4 * 0.9848)) / 2, 1e-4);
    EXPECT_NEAR(got.sign.other_radius, std::sqrt(0.9848), 1e-4);
    EXPECT_NE(notes_of(got).find("the sign is probably that one"), std::string::npos);
    const auto fine =
        found(fmt::format("{} {}", peak_b, peak_a), {.feedback = FeedbackSign::subtracted});
    EXPECT_FALSE(fine.sign.is_suspect());
    EXPECT_TRUE(fine.notes.size() <= 1) << notes_of(fine);
}

TEST(FoundCoefficients, SaysWhereEitherSignIsStableAndWhereNoneIs) {
    EXPECT_NE(notes_of(found("1 0.3 0.2 0.1 0.05\n1 0 0 -0.2 0.1")).find("either makes a stable"),
              std::string::npos);
    EXPECT_NE(notes_of(found("1 0 0 -3 5\n1 0 0 -3 5")).find("Unstable with either sign"),
              std::string::npos);
}

TEST(FoundCoefficients, TheSixthColumnIsA0) {
    expect_peak(found(fmt::format("{} 1 {}", peak_b, peak_a)));
    const auto first = found(fmt::format("1 {1} {0}\n1 {1} {0}", peak_b, peak_a));
    EXPECT_EQ(first.convention.order[0], Term::a0);
    const auto doubled = found("2.0256 -3.9366 1.944 2 -3.9366 1.9696\n"
                               "2.0256 -3.9366 1.944 2 -3.9366 1.9696");
    EXPECT_EQ(doubled.fractions[0].denominator[0], 2) << "kept as it was written";
    const auto gained = found("0.5 1 -1.9 0.95 -1.9 0.93\n0.25 1 -1.8 0.95 -1.8 0.83");
    EXPECT_EQ(gained.convention.order[0], Term::gain);
    EXPECT_EQ(gained.fractions[1].numerator, (Numbers{0.25, -0.45, 0.2375}));
}

TEST(FoundCoefficients, AnIndexIsLeftOut) {
    const auto got = found(fmt::format("1 {0} {1}\n2 {0} {1}\n3 {0} {1}", peak_b, peak_a));
    EXPECT_EQ(got.fractions.size(), 3u);
    EXPECT_NE(notes_of(got).find("counts the sections"), std::string::npos);
}

TEST(FoundCoefficients, TitlesSayTheOrder) {
    const auto got =
        found(fmt::format("a1;a2;what;b0;b1;b2\n-1.9683;0.9848;7;{}", "1.0128;-1.9683;0.9720"));
    expect_peak(got);
    EXPECT_EQ(order_text(got.convention.order), "a1 a2 b0 b1 b2");
}

TEST(FoundCoefficients, AnotherOrderIsTriedWhereTheFirstIsUnstable) {
    // Read as b0 b1 b2 a1 a2 the last two would be 3 and 2: poles outside with either sign.
    const auto got = found("-1.5 0.7 1 3 2\n-1.2 0.5 1 3 2.5");
    EXPECT_EQ(order_text(got.convention.order), "a1 a2 b0 b1 b2");
    EXPECT_NE(notes_of(got).find("it is unstable"), std::string::npos);
    const auto asked =
        found("-1.5 0.7 1 3 2\n-1.2 0.5 1 3 2.5", {.order = *order_from_text("b0 b1 b2 a1 a2")});
    EXPECT_EQ(asked.fractions[0].numerator[0], -1.5);
}

TEST(FoundCoefficients, NamedNumbersInGroups) {
    const std::string text = "biquad 1\nb0 = 1.0128\nb1=-1.9683\nb2 = 0.9720\na1 = 1.9683\n"
                             "a2=-0.9848\nbiquad 2\nb0 = 0.5\na1 = 0.25\n";
    const auto got = found(text);
    EXPECT_EQ(got.as, CoefficientsAs::sections);
    ASSERT_EQ(got.fractions.size(), 2u);
    EXPECT_EQ(got.fractions[1].numerator, (Numbers{0.5}));
    EXPECT_EQ(got.fractions[1].denominator, (Numbers{1, -0.25})) << "added, as the first needs it";
    const auto high = found("b0=1 b1=2 b2=3 b3=4 a0=2 a1=-1 a3=0.5");
    EXPECT_EQ(high.as, CoefficientsAs::fraction);
    EXPECT_EQ(high.fractions[0].denominator, (Numbers{2, -1, 0, 0.5}));
    EXPECT_EQ(found("gain = 2\nb1 = -1\nb2 = 0.5\na1 = 0.5").fractions[0].numerator,
              (Numbers{2, -2, 1}));
    EXPECT_EQ(
        found("float b0[2] = {1, 2}, b1[2] = {3, 4}, a1[2] = {0.5, 0.25};").fractions[1].numerator,
        (Numbers{2, 4}));
}

TEST(FoundCoefficients, RowsOfBAndA) {
    const auto rows = found("1 2 3 4\n1 -0.5 0.25 -0.1");
    EXPECT_EQ(rows.as, CoefficientsAs::fraction);
    EXPECT_EQ(rows.fractions[0].numerator, (Numbers{1, 2, 3, 4}));
    EXPECT_EQ(rows.fractions[0].denominator, (Numbers{1, -0.5, 0.25, -0.1}));
    EXPECT_EQ(found("1 2 3 4 5\n1 -0.5 0.25 -0.1 0.05").as, CoefficientsAs::fraction);
    EXPECT_EQ(found("1 -1.9 0.95 -1.9 0.93\n1 -1.8 0.95 -1.8 0.83").as, CoefficientsAs::sections)
        << "two sections, the second with b0 = 1";
    expect_peak(found(fmt::format("double b[] = {{1.0128, -1.9683, 0.9720}};\n"
                                  "double a[] = {{-1.9683, 0.9848}};")));
    EXPECT_EQ(found("numerator\n1\n2\ndenominator\n1\n-0.5\n").fractions.size(), 1u)
        << "one a line";
    EXPECT_NE(refusal("b: 1 2\nb: 3 4\na: 1 2 3").find("2 rows of b stand against 1 of a"),
              std::string::npos);
    EXPECT_NE(refusal("b: 1 2\na: 0 1").find("a0 is 0"), std::string::npos);
}

TEST(FoundCoefficients, ElseTaps) {
    const auto got = found("0.1\n0.2\n0.4\n0.2\n0.1");
    EXPECT_EQ(got.as, CoefficientsAs::taps);
    EXPECT_EQ(got.taps, (Numbers{0.1, 0.2, 0.4, 0.2, 0.1}));
    EXPECT_EQ(found("0 0.5\n1 0.25\n2 0.125").taps, (Numbers{0.5, 0.25, 0.125}));
    EXPECT_EQ(found("static const float fir_taps[3] = {0.5f, 1.f, 0.5f};").taps,
              (Numbers{0.5, 1, 0.5}));
    EXPECT_EQ(found("0.2 0.2 0.2 0.2 0.2").as, CoefficientsAs::taps) << "five, but symmetric";
    EXPECT_EQ(found(fmt::format("{} {}", peak_b, peak_a), {.as = CoefficientsAs::taps}).taps.size(),
              5u);
    const auto asked =
        found("1\n0.5\n0.25\n-0.5\n0.1\n1\n0.5\n0.25\n-0.5\n0.1", {.as = CoefficientsAs::sections});
    EXPECT_EQ(asked.fractions.size(), 2u);
}

TEST(FoundCoefficients, FlatArraysOfSections) {
    const auto lines = found("const float c[] = {\n 1.0128, -1.9683, 0.9720, -1.9683, 0.9848,\n"
                             " 1.0128, -1.9683, 0.9720, -1.9683, 0.9848 };");
    EXPECT_EQ(lines.fractions.size(), 2u);
    const auto sixes = found("const double c[12] = {1.0128, -1.9683, 0.9720, 1, -1.9683, 0.9848, "
                             "1.0128, -1.9683, 0.9720, 1, -1.9683, 0.9848};");
    EXPECT_EQ(sixes.fractions.size(), 2u);
}

TEST(FoundCoefficients, WordsByAProfile) {
    const Processor& reed = *shipped_processor("reed-28"); // Q5.23, a1 and a2 added
    const std::string text = "0x0a4cf85 0xf7683c0 0x03067a3 0x05372a2 0xfe0d276\n";
    const auto got = found(text, reading_for(reed));
    ASSERT_EQ(got.fractions.size(), 1u);
    EXPECT_EQ(got.fractions[0].numerator[0], 0x0a4cf85 / std::exp2(23));
    EXPECT_EQ(got.fractions[0].numerator[1], (0xf7683c0 - (1 << 28)) / std::exp2(23));
    EXPECT_EQ(got.fractions[0].denominator[1], -0x05372a2 / std::exp2(23));
    EXPECT_EQ(got.words, held_word(reed.section_words));
    EXPECT_NE(refusal(text).find("line 1: “0x0a4cf85” is a word whose format is not said"),
              std::string::npos);
    EXPECT_EQ(found("1 " + text, reading_for(reed)).fractions[0].numerator,
              got.fractions[0].numerator)
        << "behind an index";
    EXPECT_NE(refusal("0x10000000 0 0 0 0", reading_for(reed)).find("more than the 28 bits"),
              std::string::npos);
}

TEST(FoundCoefficients, A0SaysTheScaleOfWords) {
    const auto hexadecimal = found("40d1 8207 3e35 4000 8207 3f07\n40d1 8207 3e35 4000 8207 3f07");
    ASSERT_EQ(hexadecimal.fractions.size(), 2u);
    EXPECT_NEAR(hexadecimal.fractions[0].denominator[1] / 0x4000, -1.9683, 1e-3);
    const auto whole = found("16594, -32249, 15925, 16384, -32249, 16135\n"
                             "16594, -32249, 15925, 16384, -32249, 16135");
    EXPECT_NEAR(whole.fractions[1].numerator[0] / whole.fractions[1].denominator[0], 1.0128, 1e-4);
    EXPECT_NE(refusal("16594, -32249, 15925, -32249, 16135\n16594, -32249, 15925, -32249, 16135")
                  .find("words whose format is not said"),
              std::string::npos);
    const auto said =
        found("16594, -32249, 15925, -32249, 16135", {.words = HeldWord{Word::fixed(2, 14)}});
    expect_peak(said);
}

TEST(FoundCoefficients, FloatsAsPatterns) {
    // 1, -1.5, 0.75 over 1, -1.5, 0.625
    const auto got = found("3f800000 bfc00000 3f400000 bfc00000 3f200000");
    ASSERT_EQ(got.fractions.size(), 1u);
    EXPECT_EQ(got.fractions[0].numerator, (Numbers{1, -1.5, 0.75}));
    EXPECT_EQ(got.fractions[0].denominator, (Numbers{1, -1.5, 0.625}));
    EXPECT_EQ(got.words->word.kind, WordKind::float32);
}

TEST(FoundCoefficients, FormulasAreRead) {
    const auto equation = found("y[n] = 0.5 x[n] + 0.5 x[n-1] + 0.9 y[n-1]");
    EXPECT_EQ(equation.fractions[0].denominator, (Numbers{1, -0.9}));
    const auto factors = found("H(z) = 0.5 (1 + z^-1) / ((1 - 0.9 z^-1)(1 - 0.5 z^-1))");
    EXPECT_TRUE(factors.roots || !factors.fractions.empty());
    EXPECT_EQ(chain_of(factors, "Two").size(), 1u);
    EXPECT_NE(refusal("H(s) = 1/(1 + s)").find("continuous time"), std::string::npos);
    EXPECT_NE(refusal("H(z) = 1 /\n(1 - 0.9 z^").find("line 2"), std::string::npos);
}

TEST(FoundCoefficients, TheRateIsHeard) {
    EXPECT_EQ(found("fs = 44100\nb0 = 1\na1 = 0.5").sample_rate_hz, 44100.0);
    EXPECT_EQ(found("// for 2 ways, Sample rate: 44.1 kHz\n0.5\n0.25").sample_rate_hz, 44100.0);
    EXPECT_EQ(found("# offs 96000\n0.5\n0.25").sample_rate_hz, std::nullopt);
    EXPECT_EQ(found("# sample_rate_hz: 96000\n0.5\n0.25").sample_rate_hz, 96000.0);
    EXPECT_EQ(found("0.5\n0.25").sample_rate_hz, std::nullopt);
}

TEST(FoundCoefficients, ARangeOfBadTexts) {
    EXPECT_NE(refusal("1 2 3 4 5 6 7\n1 2 3 4 5 6 7", {.order = *order_from_text("b0 b1 b2 a1 a2")})
                  .find("numbers are left"),
              std::string::npos);
    EXPECT_NE(refusal("1 2 3\n4 5 6\n7 8 9", {.as = CoefficientsAs::fraction}).find("pairs"),
              std::string::npos);
    EXPECT_NE(refusal("1 2 3\n4 5 6", {.as = CoefficientsAs::sections}).find("no sections"),
              std::string::npos);
    EXPECT_NE(refusal("# order: b0 b1 b2 a1 a2\n# feedback: added\n# sections: 2\n1 2 3 4 5\n")
                  .find("the head says 2, the file holds 1"),
              std::string::npos);
    EXPECT_NE(refusal("# structure: lattice\n1 2 3 4 5").find("not of direct forms"),
              std::string::npos);
    std::string many = "b: 1";
    for (int i = 0; i < 300; ++i) {
        many += " 0.5";
    }
    EXPECT_NE(refusal(many + "\na: 1 0.5").find("order 300"), std::string::npos);
    EXPECT_FALSE(found_coefficients_in_file("/nowhere/at/all.txt"));
}

TEST(FoundCoefficients, AGainBesideATableIsThatOfAll) {
    const auto got = found(fmt::format("gain = 0.5\n{0} {1}\n{0} {1}\n", peak_b, peak_a));
    ASSERT_EQ(got.fractions.size(), 2u);
    EXPECT_NEAR(got.fractions[0].numerator[0], 0.5064, 1e-12);
    EXPECT_NEAR(got.fractions[1].numerator[0], 1.0128, 1e-12);
    EXPECT_NE(refusal(fmt::format("b0 = 0.5\n{0} {1}\n", peak_b, peak_a)).find("“b0” stands"),
              std::string::npos);
}

TEST(FoundCoefficients, NumbersWithoutANameBesideNamedOnesAreSaidToBeLeftOut) {
    const auto got = found("b0 = 1\na1 = -0.5\n0.25\n");
    ASSERT_EQ(got.fractions.size(), 1u);
    EXPECT_EQ(got.fractions[0].numerator, Numbers{1});
    EXPECT_NE(notes_of(got).find("left out, from line 3 on"), std::string::npos) << notes_of(got);
    EXPECT_EQ(notes_of(found("b0 = 1\na1 = -0.5\n")).find("left out"), std::string::npos);
}

TEST(FoundCoefficients, HeadsOfOthersPromiseNothing) {
    EXPECT_EQ(
        found("# order: b0 b1 b2 a1 a2\n# feedback: subtracted\n1 2 3 -1 0.5\n").fractions.size(),
        1u);
}

TEST(FoundCoefficients, WhatIsNotDesignedIsRefused) {
    FoundCoefficients many;
    many.taps.assign((1 << 20) + 1, 0.0);
    EXPECT_FALSE(filter_of(many, Axis(48000)));
    EXPECT_TRUE(filter_of(found("y[n] = x[n] + 1.5 y[n-1]"), Axis(48000)));
    EXPECT_EQ(found("y[n] = x[n] + 1.5 y[n-1]").sign.radius, 1.5);
}

TEST(FoundCoefficients, SeveralSectionsAreHeldTogether) {
    const Chain one = chain_of(found(fmt::format("{} {}", peak_b, peak_a)), "Peak");
    ASSERT_EQ(one.size(), 1u);
    EXPECT_EQ(one[0]->name, "Peak");
    EXPECT_TRUE(std::holds_alternative<RecursionSpec>(*one[0]->spec));
    const Chain two = chain_of(found(fmt::format("{0} {1}\n{0} {1}", peak_b, peak_a)), "Two");
    ASSERT_EQ(two.size(), 1u);
    const auto* repeat = std::get_if<RepeatSpec>(&*two[0]->spec);
    ASSERT_NE(repeat, nullptr);
    EXPECT_EQ(repeat->count, 1);
    EXPECT_EQ(repeat->stages.size(), 2u);
}

// Whatever this program hands over as numbers of direct forms comes back as the same filter.
TEST(FoundCoefficients, OwnDeliveriesComeBack) {
    const Study study = brightwater_study();
    Briefs briefs;
    int compared = 0;
    for (const Delivery& delivery : study.deliveries) {
        const auto planned = plan_delivery(study, delivery, "/tmp", briefs);
        ASSERT_TRUE(planned) << to_text(planned.error());
        for (const PlannedFile& file : *planned) {
            const FileFormat format = delivery.layout.format;
            if (!file.held || format == FileFormat::cpp_class || format == FileFormat::verilog
                || file.held->cascade.sections.empty()) {
                continue;
            }
            const FoundCoefficients got = found(file.text);
            CoefficientSet back = *file.held;
            back.cascade.sections.clear();
            for (const Coefficients& f : got.fractions) {
                back.cascade.sections.push_back({f.numerator[0], f.numerator[1], f.numerator[2],
                                                 f.denominator[1], f.denominator[2]});
            }
            back.taps = got.taps;
            back.delay_samples = got.delay_samples;
            const auto own = read_coefficients(file.text); // of decimals
            const auto deviation = deviation_between(own ? own->set : *file.held, back);
            ASSERT_TRUE(deviation) << file.path << to_text(deviation.error());
            EXPECT_LT(deviation->greatest_coefficient, 1e-15) << file.path;
            EXPECT_EQ(got.sample_rate_hz, study.sample_rate_hz);
            ++compared;
        }
    }
    EXPECT_GE(compared, 10);
}

} // namespace
} // namespace syntonon
