// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/window_facts.h"

#include "core/math/window.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

WindowFacts facts(const Window& window, std::size_t length = 1001) {
    return *window_facts(window_values(window, length));
}

// F. J. Harris, 1978, table 1: highest side lobe, equivalent noise bandwidth, 3 dB bandwidth. The
// values are of long windows.
TEST(WindowFacts, AreThoseOfThePublishedTable) {
    struct Row {
        WindowShape shape;
        double side_lobe_db, noise_bins, half_power_bins;
    };
    const Row rows[] = {{WindowShape::rectangular, -13.3, 1.00, 0.89},
                        {WindowShape::bartlett, -26.5, 1.33, 1.28},
                        {WindowShape::hann, -31.5, 1.50, 1.44},
                        {WindowShape::hamming, -42.7, 1.36, 1.30},
                        {WindowShape::blackman, -58.1, 1.73, 1.64},
                        {WindowShape::blackman_harris, -92.0, 2.00, 1.90}};
    for (const Row& row : rows) {
        const WindowFacts found = facts({row.shape, 0, {}});
        EXPECT_NEAR(found.side_lobe_db, row.side_lobe_db, 0.15) << int(row.shape);
        EXPECT_NEAR(found.noise_bandwidth_bins, row.noise_bins, 0.007) << int(row.shape);
        EXPECT_NEAR(found.half_power_bins, row.half_power_bins, 0.01) << int(row.shape);
    }
}

TEST(WindowFacts, OfADolphChebyshevWindowTheSideLobesAreWhatWasAsked) {
    EXPECT_NEAR(facts({WindowShape::dolph_chebyshev, 70, {}}, 101).side_lobe_db, -70, 0.01);
}

TEST(WindowFacts, TheMainLobeEndsAtTheFirstZero) {
    EXPECT_NEAR(facts({WindowShape::rectangular, 0, {}}).main_lobe_bins, 1, 0.07);
    EXPECT_NEAR(facts({WindowShape::hann, 0, {}}).main_lobe_bins, 2, 0.07);
    EXPECT_NEAR(facts({WindowShape::hann, 0, {}}).coherent_gain, 0.5, 0.001);
}

TEST(WindowFacts, ThereAreNoneOfASingleTapOrOfSilence) {
    EXPECT_FALSE(window_facts(std::vector{1.0}));
    EXPECT_FALSE(window_facts(std::vector{1.0, -1.0}));
    EXPECT_FALSE(window_facts({}));
}

} // namespace
} // namespace syntonon
