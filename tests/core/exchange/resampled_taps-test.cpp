// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/resampled_taps.h"

#include "core/base/units.h"
#include "core/design/fir.h"
#include "core/filter/form.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::vector<double> low_pass_taps(double edge_hz, double rate, int length) {
    WindowedFir method;
    method.edges_hz[0] = edge_hz;
    FirSpec spec;
    spec.method = method;
    spec.length = length;
    const auto made = design(spec, brief_at(rate), Watch());
    const auto values = std::get<Taps>(made->filter.form()).values();
    return {values.begin(), values.end()};
}

ResponsePoint at(const std::vector<double>& taps, double hz, double rate) {
    return Filter(Taps(taps)).response_at(hz, rate);
}

TEST(ResampledTaps, KeepTheResponseAndTellTheDelay) {
    const auto taps = low_pass_taps(5000, 44100, 201);
    for (const double rate : {48000.0, 96000.0, 32000.0, 44100.0}) {
        const auto made = resampled_taps(taps, 44100, rate);
        ASSERT_TRUE(made) << to_text(made.error());
        for (const double hz : {20.0, 1000.0, 4500.0, 5000.0, 5400.0}) {
            EXPECT_NEAR(at(made->taps, hz, rate).magnitude_db, at(taps, hz, 44100).magnitude_db,
                        0.002)
                << rate << " " << hz;
        }
        EXPECT_NEAR(at(made->taps, 1000, rate).group_delay_samples / rate,
                    at(taps, 1000, 44100).group_delay_samples / 44100 + made->later_samples / rate,
                    1e-7)
            << rate;
    }
}

TEST(ResampledTaps, ASingleTapIsNotCutInHalf) {
    const std::vector<double> one{0.5};
    const auto made = resampled_taps(one, 48000, 96000);
    ASSERT_TRUE(made);
    EXPECT_GT(made->later_samples, 20) << "what rings before it";
    EXPECT_NEAR(at(made->taps, 1000, 96000).magnitude_db, db_from_ratio(0.5), 0.002);
    EXPECT_NEAR(at(made->taps, 15000, 96000).magnitude_db, db_from_ratio(0.5), 0.002);
}

TEST(ResampledTaps, WhatIsTooFarApartOrTooLongIsRefused) {
    EXPECT_EQ(resampled_taps(std::vector{1.0}, 1, 48000).error().place, "sample_rate_hz");
    const std::vector<double> many(1 << 19, 0.1);
    const auto refused = resampled_taps(many, 44100, 192000);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().way_out.find("1048576"), std::string::npos);
}

TEST(ResampledTaps, SilenceStaysSilence) {
    const auto made = resampled_taps(std::vector<double>(8, 0.0), 48000, 44100);
    ASSERT_TRUE(made);
    EXPECT_FALSE(made->taps.empty());
    EXPECT_EQ(std::ranges::count(made->taps, 0.0), static_cast<std::ptrdiff_t>(made->taps.size()));
}

} // namespace
} // namespace syntonon
