// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/tone_meter.h"

#include "core/filter/form.h"
#include "tests/support/network_maker.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// Measured and calculated are the same within a hundredth of a decibel, whatever the network.
TEST(ToneMeter, AgreesWithTheResponse) {
    int checked = 0;
    for (unsigned seed = 0; seed < 60; ++seed) {
        const Filter filter = NetworkMaker(seed).network(2);
        for (const double hz : {31.5, 997.0, 12'345.6, 23'000.0}) {
            const auto measured = measured_gain_db(filter, hz, 48000);
            const double calculated = filter.response_at(hz, Axis(48000)).magnitude_db;
            if (measured && calculated > -120) {
                ASSERT_NEAR(*measured, calculated, 0.01) << seed << " " << hz;
                ++checked;
            }
        }
    }
    EXPECT_GT(checked, 80);
}

TEST(ToneMeter, WaitsUntilAResonanceHasSettled) {
    const double r = 0.9999, w = 0.1;
    const Filter sharp(Cascade{{{1 - r, 0, 0, -2 * r * std::cos(w), r * r}}});
    const double hz = w * 48000 / (2 * M_PI);
    EXPECT_NEAR(measured_gain_db(sharp, hz, 48000).value(),
                sharp.response_at(hz, Axis(48000)).magnitude_db, 1e-4);
}

TEST(ToneMeter, RefusesWhatHasNoAnswer) {
    EXPECT_FALSE(measured_gain_db(Filter(Cascade{{{1, 0, 0, -2, 0}}}), 1000, 48000));
    EXPECT_FALSE(measured_gain_db(Filter(), 24'000, 48000));
    EXPECT_FALSE(measured_gain_db(Filter(Cascade{{{1, 0, 0, -1.99999, 0.9999901}}}), 1000, 48000));
}

} // namespace
} // namespace syntonon
