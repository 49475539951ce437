// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/smoothing.h"

#include "core/base/units.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Curve curve_through(std::vector<double> hz, std::vector<double> db) {
    Curve made;
    made.frequency_hz = std::move(hz);
    made.magnitude_db = std::move(db);
    return made;
}

Smoothing octaves(double width) {
    return {SmoothingKind::octave, width};
}

TEST(Smoothing, LeavesALevelCurveAlone) {
    const Curve flat = smoothed(curve_through({20, 100, 20000}, {3, 3, 3}), octaves(1.0 / 3), 12);
    ASSERT_TRUE(check(flat));
    EXPECT_EQ(flat.low_hz(), 20);
    EXPECT_EQ(flat.high_hz(), 20000);
    for (const double level : flat.magnitude_db) {
        EXPECT_NEAR(level, 3, 1e-12);
    }
}

TEST(Smoothing, AveragesThePowerOfASlope) {
    // 10 log10 of the mean of 10^(s x/10) over an octave, in closed form.
    const double s = 6; // dB an octave
    const Curve slope = curve_through({125, 8000}, {0, 6 * s});
    const Curve smooth = smoothed(slope, octaves(1), 24);
    const CurveReader reader(smooth);
    const double k = s * std::log(10.0) / 10;
    const double expected = 3 * s + 10 * std::log10((std::exp(k / 2) - std::exp(-k / 2)) / k);
    EXPECT_NEAR(reader.magnitude_db_at(1000), expected, 1e-9);
}

TEST(Smoothing, ANarrowDipIsNoLongerDeep) {
    const Curve dip = curve_through({20, 990, 1000, 1010, 20000}, {0, 0, -40, 0, 0});
    const CurveReader smooth(smoothed(dip, octaves(1.0 / 3), 96));
    EXPECT_GT(smooth.magnitude_db_at(1000), -0.5);
    EXPECT_LT(smooth.magnitude_db_at(1000), -0.1);
    EXPECT_NEAR(smooth.magnitude_db_at(1000 * std::exp2(0.2)), 0, 1e-9) << "outside the window";
}

TEST(Smoothing, AQuietRangeBesideALoudOneKeepsItsLevel) {
    // 300 dB apart: in a sum of both the quiet one's power would be lost.
    const Curve cliff = curve_through({20, 100, 101, 20000}, {100, 100, -200, -200});
    const CurveReader smooth(smoothed(cliff, octaves(1.0 / 3), 12));
    EXPECT_NEAR(smooth.magnitude_db_at(1000), -200, 1e-9);
    EXPECT_NEAR(smooth.magnitude_db_at(40), 100, 1e-9);
    const Curve far = smoothed(curve_through({20, 20000}, {-9000, 9000}), octaves(1.0 / 3), 6);
    EXPECT_TRUE(check(far));
}

TEST(Smoothing, AWidthTooSmallToBeOneOnlySamples) {
    const Curve line = smoothed(curve_through({100, 1600}, {0, 8}), octaves(1e-17), 1);
    EXPECT_NEAR(line.magnitude_db[2], 4, 1e-12);
}

TEST(Smoothing, WithoutWidthItOnlySamples) {
    const Curve line = curve_through({100, 1600}, {0, 8});
    const Curve sampled = smoothed(line, octaves(0), 1);
    ASSERT_EQ(sampled.frequency_hz.size(), 5u);
    EXPECT_NEAR(sampled.magnitude_db[2], 4, 1e-12);
    const Curve single = smoothed(curve_through({100}, {5}), octaves(1), 12);
    EXPECT_EQ(single.magnitude_db, std::vector<double>{5});
}

TEST(Smoothing, WindowsAreAsWideAsTheirSourcesSay) {
    const auto width = [](SmoothingKind kind, double hz) { return width_oct_at({kind}, hz); };
    EXPECT_NEAR(width(SmoothingKind::by_frequency, 50), 1.0 / 48, 1e-12);
    EXPECT_NEAR(width(SmoothingKind::by_frequency, 1000), 1.0 / 6, 1e-12);
    EXPECT_NEAR(width(SmoothingKind::by_frequency, 16e3), 1.0 / 3, 1e-12);
    // Glasberg and Moore's 132.6 Hz at 1 kHz.
    EXPECT_NEAR(width(SmoothingKind::erb, 1000), std::log2(1066.3195 / 933.6805), 1e-6);
    for (double hz = 1; hz < 30e3; hz *= 1.3) {
        EXPECT_GT(width(SmoothingKind::erb, hz), 0) << hz;
    }
}

// A peak and a dip, both far narrower than the ear's filters.
TEST(Smoothing, ThePsychoacousticKeepsPeaksAndFillsNarrowDips) {
    const auto at_1000 = [](double db, SmoothingKind kind) {
        const Curve narrow = curve_through({20, 985, 995, 1005, 1015, 20000}, {0, 0, db, db, 0, 0});
        return CurveReader(smoothed(narrow, {kind}, 96)).magnitude_db_at(1000);
    };
    EXPECT_GT(at_1000(12, SmoothingKind::psychoacoustic), at_1000(12, SmoothingKind::erb) + 2);
    EXPECT_GT(at_1000(-20, SmoothingKind::psychoacoustic), -1);
    EXPECT_NEAR(at_1000(-20, SmoothingKind::psychoacoustic), at_1000(-20, SmoothingKind::erb),
                1e-9);
}

// A pure delay: over a window its vectors turn, and their mean is sinc-shorter but not turned.
TEST(Smoothing, VectorsKeepThePhaseAndLoseLevelWhereTheyDisagree) {
    Curve delay;
    for (int i = 0; i <= 20'000; ++i) {
        delay.frequency_hz.push_back(100 * std::exp2(i / 4000.0));
        delay.magnitude_db.push_back(0);
        delay.phase_deg.push_back(std::remainder(-360 * delay.frequency_hz.back() * 1e-3, 360));
    }
    const Curve power = smoothed(delay, octaves(1.0 / 12), 12);
    Smoothing vectors = octaves(1.0 / 12);
    vectors.of_vectors = true;
    const Curve both = smoothed(delay, vectors, 12);
    for (std::size_t i = 2; i + 2 < both.frequency_hz.size(); ++i) {
        const double hz = both.frequency_hz[i];
        EXPECT_NEAR(power.magnitude_db[i], 0, 1e-9);
        const double turns = hz * 1e-3 * std::log(2.0) / 12; // across the window
        const double expected = std::sin(pi * turns) / (pi * turns);
        EXPECT_NEAR(both.magnitude_db[i], db_from_ratio(std::abs(expected)), 0.02) << hz;
        EXPECT_NEAR(std::remainder(both.phase_deg[i] + 360 * hz * 1e-3, 360), 0, 2) << hz;
        EXPECT_EQ(both.phase_deg[i], power.phase_deg[i]);
    }
}

} // namespace
} // namespace syntonon
