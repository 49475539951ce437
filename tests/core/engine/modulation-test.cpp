// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/modulation.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr double thousand_hz = 1000; // a sample is a millisecond

Envelope begun(const Modulation& modulation) {
    Envelope envelope;
    envelope.prepare(modulation, thousand_hz);
    envelope.begin();
    return envelope;
}

double after(Envelope& envelope, int samples) {
    double value = 0;
    for (int n = 0; n < samples; ++n) {
        value = envelope.next();
    }
    return value;
}

TEST(Envelope, GoesItsFourWaysInTheirTimes) {
    Modulation modulation;
    modulation.attack_ms = 50;
    modulation.decay_ms = 200;
    modulation.sustain = 0.4;
    modulation.release_ms = 100;
    Envelope envelope = begun(modulation);
    EXPECT_LT(after(envelope, 10), 1);
    EXPECT_NEAR(after(envelope, 40), 1, 0.01) << "up";
    EXPECT_NEAR(after(envelope, 200), 0.4, 0.001) << "down to what is sustained";
    EXPECT_NEAR(after(envelope, 1000), 0.4, 1e-6) << "held";
    envelope.release();
    EXPECT_NEAR(after(envelope, 100), 0.4e-3, 1e-4) << "a thousandth is left";
    EXPECT_FALSE(envelope.is_idle());
    EXPECT_EQ(after(envelope, 100), 0);
    EXPECT_TRUE(envelope.is_idle());
}

TEST(Envelope, WithoutTimesJumps) {
    Modulation modulation;
    modulation.attack_ms = modulation.decay_ms = modulation.release_ms = 0;
    modulation.sustain = 0.5;
    Envelope envelope = begun(modulation);
    EXPECT_EQ(after(envelope, 1), 1);
    EXPECT_EQ(after(envelope, 1), 0.5);
    envelope.release();
    EXPECT_EQ(after(envelope, 1), 0);
    EXPECT_TRUE(envelope.is_idle());
}

TEST(Envelope, BegunAgainGoesOnFromWhereItIs) {
    Modulation modulation;
    modulation.attack_ms = 100;
    Envelope envelope = begun(modulation);
    const double before = after(envelope, 30);
    envelope.release();
    envelope.begin();
    EXPECT_NEAR(envelope.next(), before, 0.1);
    EXPECT_GT(envelope.next(), before);
}

TEST(ModulationWaves, BeginAtNothingOrAtTheTop) {
    EXPECT_NEAR(value_of(ModulationWave::sine, 0.25), 1, 1e-12);
    EXPECT_NEAR(value_of(ModulationWave::sine, 7.75), -1, 1e-9);
    EXPECT_EQ(value_of(ModulationWave::triangle, 0), 0);
    EXPECT_EQ(value_of(ModulationWave::triangle, 0.25), 1);
    EXPECT_EQ(value_of(ModulationWave::triangle, 0.75), -1);
    EXPECT_EQ(value_of(ModulationWave::square, 3.2), 1);
    EXPECT_EQ(value_of(ModulationWave::square, 3.7), -1);
}

TEST(Modulation, MovesOnlyWithADepth) {
    Modulation modulation;
    EXPECT_FALSE(modulation.moves());
    modulation.keyboard = 0.5;
    EXPECT_TRUE(modulation.moves());
    EXPECT_TRUE(check_fields(modulation));
    modulation.sustain = 1.5;
    EXPECT_FALSE(check_fields(modulation));
}

} // namespace
} // namespace syntonon
