// The simulated room against what a room must do.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/room.h"

#include "core/base/units.h"
#include "core/curve/decay.h"
#include "core/curve/gate.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(Room, WithoutReflectionsOnlyTheDirectSoundComes) {
    RoomPlan room;
    room.reflection = 0;
    const auto impulse = *room_response(room, {{2, 8, 4}, {}, 0}, {5.43, 8, 4}, 48'000);
    EXPECT_NEAR(arrival_s(impulse), 3.43 / 343, 2e-7);
    const Gate gate{-0.005, -0.004, 0.004, 0.005, {}};
    const Curve response = *gated_response(impulse, gate, arrival_s(impulse));
    for (std::size_t i = 0; i < response.frequency_hz.size() && response.frequency_hz[i] < 20e3;
         ++i) {
        EXPECT_NEAR(response.magnitude_db[i], db_from_ratio(1 / 3.43), 0.02)
            << response.frequency_hz[i];
    }
}

TEST(Room, TheFirstReflectionIsThatOfTheNearestWall) {
    RoomPlan room;
    room.wall_corner_hz = 1e6; // one that reflects all frequencies alike
    const Place from{6, 8, 1}, to{12, 8, 1};
    const auto impulse = *room_response(room, {from, {}, 0}, to, 48'000);
    const double direct_s = 6 / 343.0, floor_s = std::hypot(6.0, 2.0) / 343;
    const auto at = [&](double s) {
        return impulse.samples[static_cast<std::size_t>(std::lround(s * 48'000))];
    };
    EXPECT_NEAR(at(direct_s) * 6, 1, 0.35); // between samples
    EXPECT_GT(at(floor_s), 0.3 * room.reflection / std::hypot(6.0, 2.0));
    EXPECT_NEAR(at((direct_s + floor_s) / 2), 0, 0.01);
}

// What a bundle of rays has left after t, over all directions: each axis takes one wall an extent
// (E. A. Lehmann and A. M. Johansson, Prediction of energy decay in room impulse responses
// simulated with an image-source model, JASA 124, 2008).
double energy_left(const RoomPlan& room, double s) {
    double sum = 0;
    constexpr int steps = 60;
    for (int i = 0; i < steps; ++i) {
        const double z = (i + 0.5) / steps, across = std::sqrt(1 - z * z);
        for (int k = 0; k < steps; ++k) {
            const double angle = pi / 2 * (k + 0.5) / steps;
            const double walls = room.speed_of_sound_m_per_s * s
                                 * (across * std::cos(angle) / room.length_m
                                    + across * std::sin(angle) / room.width_m + z / room.height_m);
            sum += std::pow(room.reflection, 2 * walls);
        }
    }
    return sum;
}

TEST(Room, ItDiesAwayAsItsImagesMust) {
    const RoomPlan room{9, 8, 7, 0.8, 1e6, 343, 1.0, {}, 0.4};
    const auto impulse = *room_response(room, {{2, 3, 2}, {}, 0}, {6.5, 5.5, 4.6}, 16'000);
    DecayCurve expected;
    expected.sample_rate_hz = 1000;
    double later = 0;
    for (int n = 3000; n-- > 0;) {
        later += energy_left(room, (n + 15) / 1000.0); // from the direct sound on
        expected.level_db.push_back(later);
    }
    std::ranges::reverse(expected.level_db);
    for (double& level : expected.level_db) {
        level = 10 * std::log10(level / later);
    }
    const auto time = decay_time_s(decay_of(band_of(impulse, 4000, 1)), -10, -30);
    const auto wanted = decay_time_s(expected, -10, -30);
    ASSERT_TRUE(time && wanted);
    EXPECT_NEAR(*time / *wanted, 1, 0.05);
}

TEST(Room, WallsThatSwallowHighFrequenciesLetThemDieSooner) {
    RoomPlan room;
    const auto impulse = *room_response(room, {{3, 3, 5}, {}, 0}, {11, 9, 1.2}, 48'000);
    const auto times = decay_times(impulse);
    double at_250 = 0, at_8000 = 0;
    for (const DecayTimes& band : times) {
        if (band.centre_hz == 250) {
            at_250 = band.t20_s.value_or(0);
        } else if (band.centre_hz == 8000) {
            at_8000 = band.t20_s.value_or(0);
        }
    }
    EXPECT_GT(at_250, 2 * at_8000);
    EXPECT_GT(at_8000, 0);
}

TEST(Room, TheLoudspeakersSectionsAreInItsResponse) {
    RoomPlan room;
    room.reflection = 0;
    LoudspeakerPlan loudspeaker{{2, 8, 4}, {}, -6};
    const auto flat = *room_response(room, loudspeaker, {3, 8, 4}, 48'000);
    loudspeaker.sections = {parametric(ParametricShape::peak, 1000, 6, 2)};
    const auto coloured = *room_response(room, loudspeaker, {3, 8, 4}, 48'000);
    const Gate gate{-0.01, -0.009, 0.08, 0.09, {}};
    const CurveReader a(*gated_response(flat, gate, 0)), b(*gated_response(coloured, gate, 0));
    EXPECT_NEAR(a.magnitude_db_at(1000), -6, 0.02);
    EXPECT_NEAR(b.magnitude_db_at(1000) - a.magnitude_db_at(1000), 6, 0.02);
}

TEST(Room, WhatIsNotPossibleIsRefusedByName) {
    const auto place = [](const RoomPlan& room, const Place& at) {
        const auto made = room_response(room, {{1, 1, 1}, {}, 0}, at, 48'000);
        return made ? "" : made.error().place;
    };
    RoomPlan room;
    EXPECT_EQ(place(room, {99, 1, 1}), "microphone.x_m");
    room.reflection = 1;
    EXPECT_EQ(place(room, {2, 2, 2}), "room.reflection");
}

} // namespace
} // namespace syntonon
