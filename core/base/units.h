// Decibel, frequency and time conversions. Every name says its unit.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <limits>
#include <numbers>

namespace syntonon {

inline constexpr double pi = std::numbers::pi;
inline constexpr double infinity = std::numeric_limits<double>::infinity();

// Amplitude ratio <-> decibel: dB = 20 log10(ratio). A ratio of 0 is -infinity dB.
inline double db_from_ratio(double ratio) {
    return 20.0 * std::log10(ratio);
}
inline double ratio_from_db(double db) {
    return std::pow(10.0, db / 20.0);
}

// Power ratio <-> decibel: dB = 10 log10(power).
inline double db_from_power(double power) {
    return 10.0 * std::log10(power);
}
inline double power_from_db(double db) {
    return std::pow(10.0, db / 10.0);
}

constexpr double rad_per_sample_from_hz(double hz, double sample_rate_hz) {
    return 2.0 * pi * hz / sample_rate_hz;
}
constexpr double hz_from_rad_per_sample(double rad_per_sample, double sample_rate_hz) {
    return rad_per_sample * sample_rate_hz / (2.0 * pi);
}
constexpr double hz_from_rad_per_s(double rad_per_s) {
    return rad_per_s / (2.0 * pi);
}
constexpr double rad_per_s_from_hz(double hz) {
    return 2.0 * pi * hz;
}

constexpr double nyquist_hz(double sample_rate_hz) {
    return sample_rate_hz / 2.0;
}

constexpr double deg_from_rad(double rad) {
    return rad * 180.0 / pi;
}
constexpr double rad_from_deg(double deg) {
    return deg * pi / 180.0;
}

constexpr double seconds_from_samples(double samples, double sample_rate_hz) {
    return samples / sample_rate_hz;
}
constexpr double samples_from_seconds(double seconds, double sample_rate_hz) {
    return seconds * sample_rate_hz;
}

// Distance on the logarithmic frequency axis, positive when `to_hz` is higher.
inline double octaves_between(double from_hz, double to_hz) {
    return std::log2(to_hz / from_hz);
}

// The same angle in (-180, 180].
inline double wrapped_deg(double deg) {
    const double wrapped = std::remainder(deg, 360.0);
    return wrapped <= -180.0 ? wrapped + 360.0 : wrapped;
}

} // namespace syntonon
