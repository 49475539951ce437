// Where on its plane a filter is asked: its domain, and how far the frequencies go.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <numbers>

namespace syntonon {

// H(z) at z = e^(j 2 pi f / fs), up to half the sample rate; or H(s) at s = j 2 pi f, of which
// there is no end.
enum class Domain { sampled, analog };

// As good as no end.
inline constexpr double greatest_analog_hz = 1e9;

struct Axis {
    // In the analog domain only what delays are counted in: 1 "sample" is its inverse in seconds.
    double sample_rate_hz = 48000;
    Domain domain = Domain::sampled;

    Axis() = default;
    // A rate is an axis of the sampled domain.
    constexpr Axis(double rate_hz, Domain of = Domain::sampled) // NOLINT: meant to be implicit
        : sample_rate_hz(rate_hz), domain(of) {}

    bool is_analog() const { return domain == Domain::analog; }
    double end_hz() const { return is_analog() ? greatest_analog_hz : sample_rate_hz / 2; }
    double rad_per_sample(double hz) const { return 2 * std::numbers::pi * hz / sample_rate_hz; }

    bool operator==(const Axis&) const = default;
};

} // namespace syntonon
