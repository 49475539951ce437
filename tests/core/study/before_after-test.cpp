// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/before_after.h"

#include "core/base/units.h"
#include "core/filter/delay.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// A filter, as it would be measured in so many places, each a little later than the other.
Study study_measuring(const Filter& filter, int positions) {
    Study study;
    study.sample_rate_hz = rate;
    Channel channel;
    channel.id = "c";
    for (int p = 0; p < positions; ++p) {
        Curve curve;
        curve.id = curve.name = "p" + std::to_string(p);
        for (double hz = 20; hz < 20'000; hz *= std::exp2(1.0 / 48)) {
            const auto at = filter.response_at(hz, rate);
            curve.frequency_hz.push_back(hz);
            curve.magnitude_db.push_back(at.magnitude_db + p);
            curve.phase_deg.push_back(deg_from_rad(at.phase_rad));
        }
        study.curves.emplace_back(curve);
        channel.measured.push_back({curve.id, 1});
    }
    study.channels.emplace_back(channel);
    return study;
}

SharedMeasured seen_by(const Study& study) {
    return *measured_of(study, *study.channels.front());
}

TEST(BeforeAfter, AfterIsBeforeTimesTheChain) {
    const Study study = study_measuring(section(ParametricShape::peak, 300, 6, 1), 2);
    const Filter chain = section(ParametricShape::high_shelf, 4000, -4, 0.7);
    const BeforeAfter result =
        before_after_of(*seen_by(study), chain, Axis{rate}, nullptr, {0, -0.01, 0.02});
    ASSERT_EQ(result.positions.size(), 2U);
    EXPECT_EQ(result.positions[1].name, "p1");
    for (std::size_t i = 0; i < result.hz.size(); ++i) {
        const double hz = result.hz[i];
        for (const BeforeAfter::Place& place : result.positions) {
            if (hz < 20 || hz > 19'700) {
                EXPECT_EQ(std::isnan(place.before_db[i]), hz < 20 || std::isnan(place.after_db[i]));
                continue;
            }
            EXPECT_NEAR(place.after_db[i] - place.before_db[i],
                        chain.response_at(hz, rate).magnitude_db, 1e-6);
        }
    }
}

// A delay in the chain shows as what it is, and a loudspeaker without a room rings nowhere else.
TEST(BeforeAfter, TimeZeroIsTheSoundBeforeTheChain) {
    const Study study = study_measuring(section(ParametricShape::peak, 900, 3, 1), 1);
    const Filter chain{Delay{96}};
    const BeforeAfter result = before_after_of(*seen_by(study), chain, Axis{rate});
    EXPECT_TRUE(result.positions.empty()) << "one position is all of them together";
    const auto time_of_peak = [&](const std::vector<double>& impulse) {
        const auto peak =
            std::ranges::max_element(impulse, {}, [](double x) { return std::abs(x); });
        return result.seconds[static_cast<std::size_t>(peak - impulse.begin())];
    };
    ASSERT_EQ(result.together.impulse_after.size(), result.seconds.size());
    EXPECT_EQ(time_of_peak(result.together.impulse_before), 0);
    EXPECT_EQ(time_of_peak(result.together.impulse_after), 0);
    EXPECT_NEAR(result.later_s, 96 / rate, 1e-12) << "but later as a whole";
    EXPECT_NEAR(*std::ranges::max_element(result.together.impulse_before), 1, 1e-12);
}

TEST(BeforeAfter, ACorrectionMakesTheImpulseShorter) {
    const Filter room = section(ParametricShape::peak, 200, 12, 6);
    const Study study = study_measuring(room, 1);
    const BeforeAfter result =
        before_after_of(*seen_by(study), section(ParametricShape::peak, 200, -12, 6), Axis{rate});
    const auto energy_after_5_ms = [&](const std::vector<double>& impulse) {
        double sum = 0;
        for (std::size_t i = 0; i < impulse.size(); ++i) {
            sum += result.seconds[i] > 0.005 ? impulse[i] * impulse[i] : 0;
        }
        return sum;
    };
    EXPECT_LT(energy_after_5_ms(result.together.impulse_after),
              0.1 * energy_after_5_ms(result.together.impulse_before));
}

TEST(BeforeAfter, WithoutPhaseThereIsNoTime) {
    Study study = study_measuring(section(ParametricShape::peak, 300, 6, 1), 2);
    study.curves[1].edit().phase_deg.clear();
    const BeforeAfter result = before_after_of(*seen_by(study), Filter(), Axis{rate});
    EXPECT_TRUE(result.together.impulse_before.empty());
    EXPECT_TRUE(result.positions[0].impulse_after.empty());
    EXPECT_FALSE(result.together.before_db.empty());
}

} // namespace
} // namespace syntonon
