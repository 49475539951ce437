// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/band_measures.h"

#include "core/base/units.h"

#include <cmath>
#include <gtest/gtest.h>
#include <vector>

namespace syntonon {
namespace {

AmplitudePiece level(double from, double to, double gain, double weight = 1) {
    return {{from, to, gain, gain}, weight};
}

// |H| = cos(w/2)
TEST(BandMeasures, OfTwoEqualTapsAreACosine) {
    const std::vector<double> taps{0.5, 0.5};
    const auto measures = band_measures(taps, {level(0, pi / 3, 1), level(0.94 * pi, pi, 0, 20)});
    EXPECT_NEAR(*measures.ripple_db, -db_from_ratio(std::cos(pi / 6)), 1e-12);
    EXPECT_NEAR(*measures.attenuation_db, -db_from_ratio(std::cos(0.47 * pi)), 1e-12);
    EXPECT_NEAR(*measures.transition_w, 0.94 * pi - pi / 3, 1e-12);
    EXPECT_NEAR(measures.error, 20 * std::cos(0.47 * pi), 1e-12);
    EXPECT_NEAR(measures.delay_samples, 0.5, 1e-15);

    const auto pass_alone = band_measures(taps, {level(0, 1, 1)});
    EXPECT_FALSE(pass_alone.attenuation_db);
    EXPECT_FALSE(pass_alone.transition_w);
    // A gain of 0.05 beside one of 1 is a stopband, too; the level counts, not the difference.
    const auto low = band_measures(taps, {level(0, 0.1, 1), level(pi / 2, pi, 0.05)});
    EXPECT_NEAR(*low.attenuation_db, -db_from_ratio(std::cos(pi / 4)), 1e-12);
}

// The ideal low-pass, cut off: lobes of 21 dB, and a step of as much on both sides of the edge.
TEST(BandMeasures, OfEdgesAreWhereItsOwnLobesBegin) {
    std::vector<double> taps;
    const double edge = pi / 3;
    for (int n = -60; n <= 60; ++n) {
        taps.push_back(n == 0 ? edge / pi : std::sin(edge * n) / (pi * n));
    }
    const Amplitude bands = natural_bands(taps, std::vector{edge}, true);
    ASSERT_EQ(bands.size(), 2u);
    const auto measures = band_measures(taps, bands);
    EXPECT_NEAR(*measures.attenuation_db, 21, 0.3);
    EXPECT_NEAR(*measures.ripple_db, db_from_ratio(1.0895 / 0.9105), 0.25)
        << "Gibbs: 8.95 percent, the first swing less than the second lobe";
    EXPECT_LT(bands[0].gain.to, edge);
    EXPECT_GT(bands[1].gain.from, edge);
    // Harris: the transition of a rectangular window is about 0.92 bins of 2 pi / N.
    EXPECT_NEAR(*measures.transition_w, 0.92 * 2 * pi / 121, 0.1 * 2 * pi / 121);

    EXPECT_TRUE(natural_bands(std::vector{1.0}, std::vector{edge}, true).empty());
}

} // namespace
} // namespace syntonon
