// Parametric sections whose level follows the analog prototype.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/parametric.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const Axis analog(rate, Domain::analog);

ParametricSpec matched(ParametricShape shape, double hz, double gain_db, double q, int order = 2) {
    ParametricSpec spec = parametric(shape, hz, gain_db, q, order);
    spec.mapping = ParametricMapping::nyquist_matched;
    return spec;
}

double level(const Filter& filter, double hz, const Axis& axis) {
    return filter.response_at(hz, axis).magnitude_db;
}

TEST(NyquistMatched, HasTheAnalogLevelsAtThreeFrequencies) {
    for (const ParametricShape shape :
         {ParametricShape::peak, ParametricShape::low_shelf, ParametricShape::high_shelf,
          ParametricShape::low_pass, ParametricShape::notch}) {
        for (const double hz : {60.0, 3000.0, 15000.0}) {
            const ParametricSpec spec = matched(shape, hz, 7, 1.2);
            const auto sampled = parametric_filter(spec, rate),
                       continuous = parametric_filter(spec, analog);
            ASSERT_TRUE(sampled) << title_of(shape) << hz << to_text(sampled.error());
            EXPECT_TRUE(sampled->is_stable());
            for (const double at : {0.0, hz, rate / 2}) {
                const double wanted = level(*continuous, at, analog);
                if (std::isfinite(wanted)) {
                    EXPECT_NEAR(level(*sampled, at, rate), wanted, 1e-6) << title_of(shape) << at;
                } else {
                    EXPECT_LT(level(*sampled, at, rate), -200);
                }
            }
        }
    }
}

// Nearer than the bilinear one everywhere, and by far in the top octave.
TEST(NyquistMatched, FollowsTheAnalogBellWhereTheBilinearOneIsNarrow) {
    const ParametricSpec spec = matched(ParametricShape::peak, 14000, 9, 0.9);
    ParametricSpec plain = spec;
    plain.mapping = ParametricMapping::bilinear;
    double of_matched = 0, of_bilinear = 0;
    for (double hz = 100; hz < rate / 2; hz += 100) {
        const double wanted = level(*parametric_filter(spec, analog), hz, analog);
        of_matched = std::max(of_matched,
                              std::abs(level(*parametric_filter(spec, rate), hz, rate) - wanted));
        of_bilinear = std::max(of_bilinear,
                               std::abs(level(*parametric_filter(plain, rate), hz, rate) - wanted));
    }
    EXPECT_LT(of_matched, 0.8);
    EXPECT_GT(of_bilinear, 2.5);
}

TEST(NyquistMatched, ANotchKeepsItsWidth) {
    const ParametricSpec spec = matched(ParametricShape::notch, 16000, 0, 2);
    const auto continuous = parametric_filter(spec, analog),
               sampled = parametric_filter(spec, rate);
    const double half_power = 16000 * (std::hypot(0.25, 1) - 0.25);
    EXPECT_NEAR(level(*continuous, half_power, analog), db_from_power(0.5), 1e-9);
    EXPECT_NEAR(level(*sampled, half_power, rate), db_from_power(0.5), 1e-6);
}

TEST(NyquistMatched, FirstOrdersToo) {
    for (const ParametricShape shape : {ParametricShape::low_pass, ParametricShape::high_shelf}) {
        const ParametricSpec spec = matched(shape, 9000, 6, 0.7, 1);
        EXPECT_NEAR(level(*parametric_filter(spec, rate), rate / 2, rate),
                    level(*parametric_filter(spec, analog), rate / 2, analog), 1e-9);
    }
}

TEST(NyquistMatched, SaysWhereNoSectionFollows) {
    const auto made = parametric_filter(matched(ParametricShape::high_shelf, 21000, 7, 1.2), rate);
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().place, "mapping");
}

TEST(NyquistMatched, AnAllPassHasNothingToMatch) {
    const auto made = parametric_filter(matched(ParametricShape::all_pass, 1000, 0, 1), rate);
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().place, "mapping");
}

// The prototypes themselves, against their formulas at the frequency.
TEST(AnalogParametric, HasTheLevelItSays) {
    for (const double hz : {5.0, 1000.0, 250000.0}) {
        const auto at = [&](ParametricShape shape, double gain_db, double q, int order = 2) {
            return level(*parametric_filter(parametric(shape, hz, gain_db, q, order), analog), hz,
                         analog);
        };
        EXPECT_NEAR(at(ParametricShape::peak, 6, 2), 6, 1e-9);
        EXPECT_NEAR(at(ParametricShape::low_shelf, 6, 0.7), 3, 1e-9);
        EXPECT_NEAR(at(ParametricShape::high_shelf, -8, 0.7), -4, 1e-9);
        EXPECT_NEAR(at(ParametricShape::low_pass, 0, 2), db_from_ratio(2), 1e-9);
        EXPECT_NEAR(at(ParametricShape::high_pass, 0, 0.5), db_from_ratio(0.5), 1e-9);
        EXPECT_NEAR(at(ParametricShape::band_pass, 0, 5), 0, 1e-9);
        EXPECT_NEAR(at(ParametricShape::all_pass, 0, 5), 0, 1e-9);
        EXPECT_NEAR(at(ParametricShape::low_pass, 0, 1, 1), db_from_power(0.5), 1e-9);
        EXPECT_NEAR(at(ParametricShape::high_shelf, 6, 1, 1), 3, 1e-9);
    }
}

// Octaves between half-gain points, without the sampled correction.
TEST(AnalogParametric, ItsBandwidthIsInPlainOctaves) {
    ParametricSpec spec = parametric(ParametricShape::peak, 20000, 12, 1);
    spec.width = {WidthKind::bandwidth_oct, 2};
    const auto filter = parametric_filter(spec, analog);
    EXPECT_NEAR(level(*filter, 10000, analog), 6, 1e-9);
    EXPECT_NEAR(level(*filter, 40000, analog), 6, 1e-9);
    EXPECT_FALSE(parametric_filter(parametric(ParametricShape::peak, 2e9, 1, 1), analog));
}

} // namespace
} // namespace syntonon
