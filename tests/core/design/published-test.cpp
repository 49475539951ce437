// Sections whose coefficients are known in closed form.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/parametric.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Shape = ParametricShape;

constexpr double quarter = rate / 4; // tan(w0/2) = 1, cos(w0) = 0: everything simplifies

Biquad published_section(const ParametricSpec& spec) {
    return parametric_filter(spec, rate).value().sections()->sections.at(0);
}

void expect_published(const Biquad& got, const Biquad& wanted) {
    EXPECT_NEAR(got.b0, wanted.b0, 1e-15);
    EXPECT_NEAR(got.b1, wanted.b1, 1e-15);
    EXPECT_NEAR(got.b2, wanted.b2, 1e-15);
    EXPECT_NEAR(got.a1, wanted.a1, 1e-15);
    EXPECT_NEAR(got.a2, wanted.a2, 1e-15);
}

TEST(Published, SecondOrderButterworthAtAQuarterOfTheRate) {
    // The textbook pair 0.29289, 0.58579, 0.29289 over 1, 0, 0.17157: 1/(2 + sqrt 2) and
    // (2 - sqrt 2)/(2 + sqrt 2).
    const double b = 1 / (2 + std::sqrt(2.0)), a = (2 - std::sqrt(2.0)) / (2 + std::sqrt(2.0));
    expect_published(published_section(parametric(Shape::low_pass, quarter, 0, std::sqrt(0.5))),
                     {b, 2 * b, b, 0, a});
    expect_published(published_section(parametric(Shape::high_pass, quarter, 0, std::sqrt(0.5))),
                     {b, -2 * b, b, 0, a});
}

TEST(Published, FirstOrderAtAQuarterOfTheRate) {
    // The bilinear transform puts the pole of 1/(s+1) at 0: a two-tap average and difference.
    expect_published(published_section(parametric(Shape::low_pass, quarter, 0, 1, 1)),
                     {0.5, 0.5, 0, 0, 0});
    expect_published(published_section(parametric(Shape::high_pass, quarter, 0, 1, 1)),
                     {0.5, -0.5, 0, 0, 0});
    // (1 - s)/(1 + s) becomes z^-1: the pure delay of one sample.
    expect_published(published_section(parametric(Shape::all_pass, quarter, 0, 1, 1)),
                     {0, 1, 0, 0, 0});
}

TEST(Published, NotchAndBandPassAtAQuarterOfTheRate) {
    // alpha = 1/(2Q): notch (1 + z^-2)/(1 + alpha + (1 - alpha) z^-2).
    const double alpha = 0.25;
    expect_published(published_section(parametric(Shape::notch, quarter, 0, 2)),
                     {1 / (1 + alpha), 0, 1 / (1 + alpha), 0, (1 - alpha) / (1 + alpha)});
    expect_published(published_section(parametric(Shape::band_pass, quarter, 0, 2)),
                     {alpha / (1 + alpha), 0, -alpha / (1 + alpha), 0, (1 - alpha) / (1 + alpha)});
    expect_published(published_section(parametric(Shape::all_pass, quarter, 0, 2)),
                     {(1 - alpha) / (1 + alpha), 0, 1, 0, (1 - alpha) / (1 + alpha)});
}

TEST(Published, PeakOfTwelveDecibelsAtAQuarterOfTheRate) {
    const double A = std::pow(10, 12 / 40.0), alpha = 0.5;
    const double a0 = 1 + alpha / A;
    expect_published(published_section(parametric(Shape::peak, quarter, 12, 1)),
                     {(1 + alpha * A) / a0, 0, (1 - alpha * A) / a0, 0, (1 - alpha / A) / a0});
}

TEST(Published, NoGainIsAWire) {
    for (const Shape shape : {Shape::peak, Shape::low_shelf, Shape::high_shelf}) {
        for (const double hz : {20.0, 1000.0, 20000.0}) {
            const Biquad s = published_section(parametric(shape, hz, 0, 1.3));
            EXPECT_NEAR(s.b0, 1, 1e-15);
            EXPECT_NEAR(s.b1, s.a1, 1e-15);
            EXPECT_NEAR(s.b2, s.a2, 1e-15);
        }
    }
}

TEST(Published, MirrorFrequenciesMirrorTheRoots) {
    // z -> -z turns a low-pass at f into a high-pass at fs/2 - f.
    for (const double hz : {500.0, 4000.0, 11000.0}) {
        const Biquad low = published_section(parametric(Shape::low_pass, hz, 0, 1.7)),
                     high = published_section(parametric(Shape::high_pass, rate / 2 - hz, 0, 1.7));
        EXPECT_NEAR(low.b0, high.b0, 1e-14);
        EXPECT_NEAR(low.b1, -high.b1, 1e-14);
        EXPECT_NEAR(low.a1, -high.a1, 1e-14);
        EXPECT_NEAR(low.a2, high.a2, 1e-14);
    }
}

TEST(Published, QIsTheRatioOfCentreToBandwidthInTheAnalogDomain) {
    // Between the -3 dB points of a band-pass on the warped axis tan(w/2): bandwidth = centre / Q.
    for (const double q : {0.5, 2.0, 10.0}) {
        const Filter filter =
            parametric_filter(parametric(Shape::band_pass, 3000, 0, q), rate).value();
        const auto warped_crossing = [&](double inside, double outside) {
            for (int i = 0; i < 200; ++i) {
                const double middle = (inside + outside) / 2;
                const bool above =
                    filter.response_at(middle, rate).magnitude_db > -10 * std::log10(2.0);
                (above ? inside : outside) = middle;
            }
            return std::tan(pi * inside / rate);
        };
        const double centre = std::tan(pi * 3000 / rate);
        EXPECT_NEAR((warped_crossing(3000, 23999) - warped_crossing(3000, 1)) / centre, 1 / q,
                    1e-9);
    }
}

} // namespace
} // namespace syntonon
