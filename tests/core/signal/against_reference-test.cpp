// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/against_reference.h"

#include "core/base/units.h"
#include "core/signal/make_signal.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr SignalExtent one_second{48000, 48000};

std::vector<double> voice() {
    return *make_signal(NarrationRecipe{}, one_second);
}

std::vector<double> later(const std::vector<double>& signal, std::size_t by, double gain) {
    std::vector<double> out(signal.size());
    for (std::size_t n = by; n < out.size(); ++n) {
        out[n] = gain * signal[n - by];
    }
    return out;
}

TEST(AgainstReference, FindsDelayAndGain) {
    const auto reference = voice();
    for (const double gain : {0.5, -2.0}) {
        const auto found = against_reference(later(reference, 190, gain), reference).value();
        EXPECT_NEAR(found.delay_samples, 190, 0.01);
        EXPECT_NEAR(found.gain_db, db_from_ratio(std::abs(gain)), 1e-6);
        EXPECT_GT(found.signal_to_noise_db, 200);
        EXPECT_NEAR(found.residual_db, db_from_ratio(std::abs(gain - 1)), 1e-6);
    }
}

TEST(AgainstReference, ReadsTheRatioOfAMix) {
    const auto reference = voice();
    const auto noise = *make_signal(WhiteNoiseRecipe{-20, 7}, one_second);
    const double factor = std::sqrt(power_of(reference) / power_of(noise)) / ratio_from_db(11.4);
    auto mixed = reference;
    for (std::size_t n = 0; n < mixed.size(); ++n) {
        mixed[n] += factor * noise[n];
    }
    const auto found = against_reference(mixed, reference).value();
    EXPECT_NEAR(found.delay_samples, 0, 0.5);
    EXPECT_NEAR(found.signal_to_noise_db, 11.4, 0.1);
    EXPECT_NEAR(found.residual_db, -11.4, 1e-6);
    EXPECT_NEAR(power_of(difference_of(mixed, reference, 0)), factor * factor * power_of(noise),
                1e-12);
}

TEST(AgainstReference, SeesAnEarlierSignalToo) {
    const auto reference = later(voice(), 75, 1);
    EXPECT_NEAR(against_reference(voice(), reference).value().delay_samples, -75, 0.01);
}

TEST(AgainstReference, ReadsPartsOfSamples) {
    // A slow tone burst, a third of a sample later.
    std::vector<double> a(4000), b(4000);
    for (std::size_t n = 0; n < a.size(); ++n) {
        const auto pulse = [](double t) { return std::exp(-t * t / 800) * std::cos(t / 9); };
        a[n] = pulse(static_cast<double>(n) - 2000 - 1.0 / 3);
        b[n] = pulse(static_cast<double>(n) - 2000);
    }
    EXPECT_NEAR(against_reference(a, b).value().delay_samples, 1.0 / 3, 0.01);
}

TEST(AgainstReference, OfAPeriodicSignalTakesTheLeastDelay) {
    std::vector<double> tone(4800);
    for (std::size_t n = 0; n < tone.size(); ++n) {
        tone[n] = std::sin(2 * pi * static_cast<double>(n) / 48);
    }
    EXPECT_NEAR(against_reference(tone, tone).value().delay_samples, 0, 0.01);
}

TEST(AgainstReference, OfSilenceThereIsNone) {
    const std::vector<double> silence(1000), some(1000, 0.5);
    EXPECT_FALSE(against_reference(silence, some));
    EXPECT_FALSE(against_reference(some, silence));
    EXPECT_FALSE(against_reference({}, {}));
}

} // namespace
} // namespace syntonon
