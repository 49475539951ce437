// The shown numbers must lead, by the shown equations, to the section that is used.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/working.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

double number(const Working& working, const std::string& step, const std::string& symbol) {
    for (const WorkingStep& s : working.steps) {
        for (const WorkingNumber& n : s.numbers) {
            if (s.title == step && n.symbol == symbol) {
                return n.value;
            }
        }
    }
    ADD_FAILURE() << step << " has no " << symbol;
    return NAN;
}

TEST(Working, LeadsToTheSectionOfAPeak) {
    const ParametricSpec spec = parametric(ParametricShape::peak, 2500, 7.5, 1.8);
    const Working working =
        design(spec, brief_at(rate), {}).map([](const Design& d) { return d.working(); }).value();
    const std::string first = "From the settings", before = "Coefficients before normalisation",
                      after = "Coefficients divided by a0";
    const double A = number(working, first, "A"), alpha = number(working, first, "α"),
                 w0 = number(working, first, "ω0");
    EXPECT_NEAR(A, std::pow(10, 7.5 / 40), 1e-15);
    EXPECT_NEAR(w0, 2 * pi * 2500 / rate, 1e-15);
    EXPECT_NEAR(alpha, std::sin(w0) / (2 * 1.8), 1e-15);
    EXPECT_NEAR(number(working, before, "b0"), 1 + alpha * A, 1e-15);
    EXPECT_NEAR(number(working, before, "a0"), 1 + alpha / A, 1e-15);
    const Filter filter = parametric_filter(spec, rate).value();
    const Biquad section = filter.sections()->sections[0];
    EXPECT_EQ(number(working, after, "b0"), section.b0);
    EXPECT_NEAR(number(working, before, "a2") / number(working, before, "a0"), section.a2, 1e-15);
    EXPECT_EQ(number(working, "Poles", "|p1|"), std::abs(filter.roots()->poles[0]));
    EXPECT_NEAR(number(working, "Poles", "f(p1)"), -number(working, "Poles", "f(p2)"), 1e-9);
    EXPECT_NEAR(number(working, first, "BW"),
                width_as(spec, WidthKind::bandwidth_oct, rate).value(), 1e-15);
}

TEST(Working, OfAFirstOrderSectionShowsTheTangent) {
    const Working working =
        design(parametric(ParametricShape::low_pass, 1000, 0, 1, 1), brief_at(rate), {})
            .map([](const Design& d) { return d.working(); })
            .value();
    const double t = std::tan(pi * 1000 / rate);
    EXPECT_NEAR(number(working, "From the settings", "t"), t, 1e-15);
    EXPECT_NEAR(number(working, "Coefficients divided by a0", "b0"), t / (1 + t), 1e-15);
    EXPECT_NEAR(number(working, "Poles", "Re p1"), (1 - t) / (1 + t), 1e-12);
    EXPECT_NEAR(number(working, "Zeros", "Re z1"), -1, 1e-12);
}

TEST(Working, RefusesWhatCannotBeDesigned) {
    EXPECT_EQ(design(parametric(ParametricShape::peak, 30000, 3, 1), brief_at(rate), {})
                  .map([](const Design& d) { return d.working(); })
                  .error()
                  .place,
              "frequency_hz");
}

} // namespace
} // namespace syntonon
