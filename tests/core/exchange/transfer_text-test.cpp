// Transfer functions written out and read back.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/transfer_text.h"

#include "core/design/recursion.h"
#include "core/design/roots.h"
#include "core/exchange/read_transfer.h"
#include "core/filter/form.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Row = std::vector<double>;

const Roots third_order{
    {{-1, 0}, {0.6, 0.8}, {0.6, -0.8}}, {{0.5, 0}, {0.75, 0.5}, {0.75, -0.5}}, 0.25, 0};

std::string written(const Filter& filter, TransferForm form,
                    TransferDialect dialect = TransferDialect::plain) {
    const auto text = transfer_text(filter, form, dialect);
    return text ? *text : to_text(text.error());
}

ReadTransfer read(std::string_view text, FeedbackSign sign = FeedbackSign::subtracted) {
    const auto made = read_transfer(text, sign);
    EXPECT_TRUE(made) << text << "\n" << made.error().at << ": " << made.error().reason;
    return made.value_or(ReadTransfer());
}

TEST(TransferText, WritesASectionInEveryDialect) {
    const Filter filter{Cascade{{Biquad{0.5, 1, 0.5, -0.9, 0}}}};
    EXPECT_EQ(written(filter, TransferForm::sections),
              "H(z) = (0.5 + z⁻¹ + 0.5 z⁻²) / (1 − 0.9 z⁻¹)");
    EXPECT_EQ(written(filter, TransferForm::sections, TransferDialect::tex),
              "H(z) = \\frac{0.5 + z^{-1} + 0.5\\,z^{-2}}{1 - 0.9\\,z^{-1}}");
    EXPECT_EQ(written(filter, TransferForm::sections, TransferDialect::c),
              "(0.5 + zi + 0.5 * zi * zi) / (1 - 0.9 * zi)");
    EXPECT_EQ(written(filter, TransferForm::equation),
              "y[n] = 0.5 x[n] + x[n−1] + 0.5 x[n−2] + 0.9 y[n−1]");
    EXPECT_EQ(written(filter, TransferForm::equation, TransferDialect::c),
              "y[n] = 0.5 * x[n] + x[n-1] + 0.5 * x[n-2] + 0.9 * y[n-1];");
    EXPECT_EQ(written(filter, TransferForm::roots),
              "H(z) = 0.5\n    · ((1 + z⁻¹) · (1 + z⁻¹))\n    / ((1 − 0.9 z⁻¹))");
}

TEST(TransferText, WritesLinesOfCThatRunASample) {
    const Filter filter{Cascade{{Biquad{0.5, 1, 0.25, -0.9, 0.5}}}};
    EXPECT_EQ(written(filter, TransferForm::sections, TransferDialect::c_lines),
              "static double x1, x2, y1, y2;\n"
              "y = 0.5 * x + x1 + 0.25 * x2 + 0.9 * y1 - 0.5 * y2;\n"
              "x2 = x1; x1 = x; y2 = y1; y1 = y;");
    const Coefficients scaled{{1}, {2, -1}};
    EXPECT_EQ(*transfer_text(Filter{Cascade{{Biquad{0.5, 0, 0, -0.5, 0}}}}, TransferForm::equation,
                             TransferDialect::c_lines, &scaled),
              "static double y1;\ny = (x + y1) / 2;\ny1 = y;");
    const Coefficients nothing_held{{3}, {1}};
    EXPECT_EQ(
        *transfer_text(filter, TransferForm::equation, TransferDialect::c_lines, &nothing_held),
        "y = 3 * x;");
    const Coefficients long_one{std::vector<double>(18, 1), {1}};
    EXPECT_FALSE(
        transfer_text(filter, TransferForm::equation, TransferDialect::c_lines, &long_one));
}

TEST(TransferText, WritesAnAnalogFilterInS) {
    Roots roots{{{0, 0}}, {{-100, 2000}, {-100, -2000}}, 50, 0};
    roots.domain = Domain::analog;
    const Filter filter = filter_of_roots(roots);
    EXPECT_EQ(written(filter, TransferForm::polynomial), "H(s) = (50 s) / (s² + 200 s + 4010000)");
    EXPECT_NE(written(filter, TransferForm::equation).find("no difference equation"),
              std::string::npos);
    EXPECT_EQ(written(filter, TransferForm::polynomial, TransferDialect::tex),
              "H(s) = \\frac{50\\,s}{s^{2} + 200\\,s + 4010000}");
}

TEST(TransferText, TellsOfSmallNumbersInTex) {
    EXPECT_EQ(
        written(Cascade{{Biquad{1e-9, 0, 0, 0, 0}}}, TransferForm::sections, TransferDialect::tex),
        "H(z) = (1 \\cdot 10^{-9})");
}

TEST(TransferText, ComesBackAsTheSameFilter) {
    Roots late = third_order;
    late.delay_samples = 3;
    for (const Roots& roots : {third_order, late}) {
        const Filter filter = filter_of_roots(roots);
        for (const TransferForm form : all_transfer_forms) {
            const std::string text = written(filter, form);
            const auto back = all_roots(read(text));
            ASSERT_TRUE(back);
            EXPECT_DOUBLE_EQ(back->gain, roots.gain) << text;
            EXPECT_EQ(back->delay_samples, roots.delay_samples) << text;
            for (const auto& [is, wanted] :
                 {std::pair{&back->zeros, &roots.zeros}, {&back->poles, &roots.poles}}) {
                ASSERT_EQ(is->size(), wanted->size()) << text;
                for (const Complex& root : *wanted) {
                    const auto nearest = std::ranges::min_element(
                        *is, {}, [&](const Complex& z) { return std::abs(z - root); });
                    EXPECT_LT(std::abs(*nearest - root), 1e-15) << text;
                }
            }
        }
        const ReadTransfer c = read(written(filter, TransferForm::equation, TransferDialect::c));
        EXPECT_EQ(c.coefficients.denominator, (Row{1, -2, 1.5625, -0.40625}));
    }
}

TEST(TransferText, RefusesToMultiplyOutBeyondOrder200) {
    Roots roots;
    roots.poles.assign(201, {0.5, 0});
    EXPECT_NE(written(filter_of_roots(roots), TransferForm::polynomial).find("order 201"),
              std::string::npos);
}

TEST(ReadTransfer, TakesFractionsAsPeopleWriteThem) {
    const ReadTransfer plain = read("(1 + 2z^-1 + z^-2)/(2 - z^-1)");
    EXPECT_EQ(plain.coefficients.numerator, (Row{1, 2, 1}));
    EXPECT_EQ(plain.coefficients.denominator, (Row{2, -1}));
    EXPECT_EQ(plain.roots.gain, 0.5);
    EXPECT_EQ(plain.roots.zeros, (std::vector<Complex>{-1, -1}));
    // The same in powers of z, over a common one, and as a sum of fractions.
    EXPECT_EQ(read("H(z) = (z^2 + 2 z + 1) / (2 z^2 - z)").coefficients.denominator, (Row{2, -1}));
    EXPECT_EQ(read("1/(1 - 0.5 z^-1) + 1/(1 + 0.5 z^-1)").coefficients.denominator,
              (Row{1, 0, -0.25}));
    EXPECT_EQ(read("1/(1 - 0.5 z^-1) + 1/(1 + 0.5 z^-1)").coefficients.numerator, (Row{2}));
    EXPECT_EQ(read("z^-5").roots.delay_samples, 5);
    EXPECT_EQ(read("0.5(1+z^{-1})^3").coefficients.numerator, (Row{0.5, 1.5, 1.5, 0.5}));
    EXPECT_EQ(read("0").coefficients.numerator, (Row{0}));
}

TEST(ReadTransfer, KeepsRootsAsTheyWereWritten) {
    const ReadTransfer made =
        read("0.1 (1 - (0.3 + 0.8j) z^-1)(1 - (0.3 - 0.8j) z^-1) / (1 - 0.95 z^-1)^5");
    EXPECT_EQ(made.roots.zeros, (std::vector<Complex>{{0.3, 0.8}, {0.3, -0.8}}));
    EXPECT_EQ(std::ranges::count(made.roots.poles, Complex(0.95, 0)), 5);
    const ReadTransfer analog = read("H(s) = 50 s / ((s + 100 - 2000j)(s + 100 + 2000j))");
    EXPECT_EQ(analog.roots.domain, Domain::analog);
    EXPECT_EQ(analog.roots.zeros, std::vector<Complex>{0});
    EXPECT_EQ(analog.roots.poles, (std::vector<Complex>{{-100, 2000}, {-100, -2000}}));
}

TEST(ReadTransfer, TakesDifferenceEquations) {
    const ReadTransfer one = read("y[n] = 0.5 x[n] + 0.25*x[n-1] - 0.5 y[n-2]");
    EXPECT_EQ(one.coefficients.numerator, (Row{0.5, 0.25}));
    EXPECT_EQ(one.coefficients.denominator, (Row{1, 0, 0.5}));
    EXPECT_EQ(read("2 y[n] - y[n−1] = 4 (x[n] + x[n−1])").coefficients.denominator, (Row{2, -1}));
    const ReadTransfer two = read("u[n] = x[n] - x[n-1] + 0.9 u[n-1]\ny[n] = u[n] + 0.5 y[n-1]");
    EXPECT_EQ(two.roots.poles, (std::vector<Complex>{0.9, 0.5}));
    EXPECT_EQ(two.roots.zeros, std::vector<Complex>{1});
}

TEST(ReadTransfer, TakesRowsInEitherSign) {
    const ReadTransfer made = read("b: 1, 2, 1\na: 1, -0.9");
    EXPECT_EQ(made.coefficients.numerator, (Row{1, 2, 1}));
    EXPECT_EQ(made.coefficients.denominator, (Row{1, -0.9}));
    EXPECT_EQ(read("b = [1 2 1]; a = [4 0.9]", FeedbackSign::added).coefficients.denominator,
              (Row{4, -0.9}));
    EXPECT_EQ(read("b0 = 0.1\nb1 = 0.2\na0 = 1 a2 = 0.5").coefficients.denominator,
              (Row{1, 0, 0.5}));
}

struct Wrong {
    std::string_view text;
    std::size_t at;
    std::string_view reason;
};

TEST(ReadTransfer, SaysWhereItStumbled) {
    const std::vector<Wrong> all{{"", 0, "is empty"},
                                 {"1 + §", 4, "has no meaning"},
                                 {"(1 + z^-1", 9, "should close"},
                                 {"1 + ", 4, "ends too early"},
                                 {"1 / (1 - 1)", 2, "divides by 0"},
                                 {"q + 1", 0, "is not known"},
                                 {"z + s", 4, "stands beside"},
                                 {"1 + z", 5, "before it is asked"},
                                 {"1 - (0.5 + 0.1j) z^-1", 2, "no conjugate"},
                                 {"j z^-1", 6, "not real"},
                                 {"1 + z^0.5", 6, "no whole number"},
                                 {"1.2.3", 0, "is not a number"},
                                 {"y[n] = x[n+1]", 10, "looks ahead"},
                                 {"y[n] = x[n] x[n-1]", 12, "multiplies signals"},
                                 {"y[n] = 1 + x[n]", 0, "stands alone"},
                                 {"y[n-1] = x[n]", 0, "no equation"},
                                 {"y[n] = x[n] + w[n]", 0, "more than one input"},
                                 {"y[n] = y[n-1]", 0, "without an input"},
                                 {"y[n] x[n]", 5, "multiplies signals"},
                                 {"b: 1, two\na: 1", 6, "is not a number"},
                                 {"b: 1", 4, "has no a"},
                                 {"b: 1\na: 0, 1", 12, "a0 = 0"},
                                 {"b: 1\nb: 2\na: 1", 5, "twice"}};
    for (const Wrong& wrong : all) {
        const auto made = read_transfer(wrong.text);
        ASSERT_FALSE(made) << wrong.text;
        EXPECT_NE(made.error().reason.find(wrong.reason), std::string::npos)
            << wrong.text << ": " << made.error().reason;
        EXPECT_EQ(made.error().at, wrong.at) << wrong.text << ": " << made.error().reason;
        EXPECT_FALSE(made.error().way_out.empty());
    }
}

TEST(ReadTransfer, ComesToAnEndOnHostileText) {
    EXPECT_FALSE(read_transfer(std::string(100'000, '(')));
    EXPECT_FALSE(read_transfer(std::string(2'000'000, '1')));
    EXPECT_FALSE(read_transfer("(1+z^-1)^1000"));
    EXPECT_FALSE(read_transfer("((((1+z^-1)^900)^900)^900)^900"));
    EXPECT_FALSE(read_transfer("z^-999 + z^-1"));
    EXPECT_FALSE(read_transfer("1 + z^-201"));
    EXPECT_TRUE(read_transfer("1 + z^-200"));
    EXPECT_FALSE(read_transfer("b999999999999999999999 = 1"));
}

} // namespace
} // namespace syntonon
