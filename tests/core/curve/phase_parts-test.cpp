// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/phase_parts.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const Biquad bell{1.05, -1.8, 0.85, -1.8, 0.9};
const Biquad low_cut{0.994461, -1.988922, 0.994461, -1.988892, 0.988953};
const Biquad all_pass{0.9, -1.8, 1, -1.8, 0.9}; // its coefficients the other way round

Curve curve_of(const Filter& filter, double delay_s) {
    Curve curve;
    for (double hz = 5; hz <= 24'000; hz *= 1.01) {
        const auto point = filter.response_at(hz, {rate, Domain::sampled});
        curve.frequency_hz.push_back(hz);
        curve.magnitude_db.push_back(point.magnitude_db);
        curve.phase_deg.push_back(
            std::remainder(deg_from_rad(point.phase_rad) - 360 * hz * delay_s, 360));
    }
    return curve;
}

TEST(PhaseParts, OfAFilterWithAStableInverseNothingIsLeft) {
    const Filter filter(Cascade{{bell}});
    const auto parts = phase_parts(curve_of(filter, 0), rate);
    ASSERT_TRUE(parts);
    const Curve curve = curve_of(filter, 0);
    for (std::size_t i = 0; i < curve.frequency_hz.size(); i += 13) {
        if (curve.frequency_hz[i] > 20 && curve.frequency_hz[i] < 20'000) {
            EXPECT_NEAR(parts->excess_deg[i], 0, 0.1) << curve.frequency_hz[i];
            EXPECT_NEAR(parts->minimum_deg[i], curve.phase_deg[i], 0.1);
        }
    }
}

TEST(PhaseParts, AnAllPassAndADelayAreAllThatIsLeft) {
    const Filter filter(Cascade{{bell, low_cut, all_pass}}), only(Cascade{{all_pass}});
    constexpr double delay_s = 0.001;
    const Curve curve = curve_of(filter, delay_s);
    const auto parts = phase_parts(curve, rate);
    ASSERT_TRUE(parts);
    for (std::size_t i = 0; i < curve.frequency_hz.size(); i += 13) {
        const double hz = curve.frequency_hz[i];
        if (hz > 100 && hz < 15'000) {
            const double expected_s =
                only.response_at(hz, {rate, Domain::sampled}).group_delay_samples / rate + delay_s;
            EXPECT_NEAR(parts->excess_delay_s[i], expected_s, hz < 300 ? 4e-5 : 2e-5) << hz;
        }
    }
}

TEST(PhaseParts, NeedsAPhaseAndItsRate) {
    Curve curve = curve_of(Filter(Cascade{{bell}}), 0);
    EXPECT_EQ(phase_parts(curve, 44'100).error().place, "sample_rate_hz");
    curve.phase_deg.clear();
    EXPECT_FALSE(phase_parts(curve, rate));
}

} // namespace
} // namespace syntonon
