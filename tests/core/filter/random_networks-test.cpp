// Networks nobody thought of: every answer is a number, and running them is their response.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/form.h"
#include "core/filter/ripple_band.h"
#include "core/filter/stepper.h"
#include "tests/support/network_maker.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

class RandomNetworks : public testing::TestWithParam<unsigned> {};

TEST_P(RandomNetworks, AnswerWithNumbersAndRunAsTheySay) {
    NetworkMaker maker(GetParam());
    const Filter net = maker.network(1 + static_cast<int>(GetParam() % 4));
    const auto grid = FrequencyGrid::logarithmic(10, 24000, 60, rate).value();
    const Response response = net.response(grid);
    const auto is_nan = [](double v) { return std::isnan(v); };
    EXPECT_TRUE(std::ranges::none_of(response.magnitude_db, is_nan));
    EXPECT_TRUE(std::ranges::none_of(response.phase_rad, is_nan));
    const RippleBand band = ripple_band(net, {true, 10, 24000, 60}, rate);
    for (std::size_t i = 0; i < band.frequency_hz.size(); ++i) {
        EXPECT_LE(band.magnitude_db.least[i], band.magnitude_db.most[i]);
        EXPECT_LE(band.phase_rad.least[i], band.phase_rad.most[i]);
    }
    EXPECT_TRUE(net.stability()) << to_text(net.stability().error());
    const auto stepper = stepper_of(net);
    const auto run = net.impulse_response(64);
    for (std::size_t n = 0; n < run.size(); ++n) {
        ASSERT_NEAR(stepper->take(n == 0 ? 1 : 0), run[n], 1e-9 * (1 + std::abs(run[n]))) << n;
    }
}

INSTANTIATE_TEST_SUITE_P(Seeds, RandomNetworks, testing::Range(0u, 120u));

} // namespace
} // namespace syntonon
