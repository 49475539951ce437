// One root, said in the ways in which people say it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/roots.h"

#include <array>
#include <complex>
#include <string>
#include <string_view>

namespace syntonon {

// Of a root z = e^(s / rate), or s itself in an analog channel, with s = sigma + j omega.
enum class RootNumber {
    real,
    imaginary,
    radius,       // |z|, or |s| in rad/s
    angle_deg,    // of z or s; 0 to 180
    frequency_hz, // |omega| / 2 pi; of an analog root its natural one, |s| / 2 pi
    q,            // frequency / bandwidth
    bandwidth_hz, // -sigma / pi: between the half-power points of a resonance; below 0 it grows
    decay_s       // until its answer is 60 dB lower: ln(1000) / -sigma; below 0 it grows
};
inline constexpr std::array all_root_numbers = {RootNumber::real,         RootNumber::imaginary,
                                                RootNumber::radius,       RootNumber::angle_deg,
                                                RootNumber::frequency_hz, RootNumber::q,
                                                RootNumber::bandwidth_hz, RootNumber::decay_s};

// Infinite where there is none: the decay on the circle, Q of it.
double number_of(const std::complex<double>& root, RootNumber which, const Axis& axis);

// The root of the upper half with one number changed and its partner kept: real and imaginary part,
// radius and angle, frequency and what says its width (Q changes the width, too).
std::complex<double> with_number(const std::complex<double>& root, RootNumber which, double value,
                                 const Axis& axis);

// By how many dB a second what a pole rings with grows; below 0 it dies away.
double growth_db_per_s(const std::complex<double>& pole, const Axis& axis);
// Of the one that grows fastest; minus infinity without poles.
double growth_db_per_s(const Roots& roots, const Axis& axis);
// "34 dB/s"; empty where nothing grows.
std::string growth_rate_text(const Roots& roots, const Axis& axis);
// "grows by 34 dB/s", "rings on without end"; empty where all dies away.
std::string growth_text(const Roots& roots, const Axis& axis);

// Mirrored at the circle, or the imaginary axis: on it the same level but for a factor.
std::complex<double> mirrored(const std::complex<double>& root, Domain domain);

} // namespace syntonon
