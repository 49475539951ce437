// An analog channel handed out: second-order sections, polynomials in s, zeros and poles.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/analog_cascade.h"
#include "core/study/briefs.h"
#include "core/study/study.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct AnalogFilterText {
    std::string study, channel;
    // Nothing where a sum or a loop is no row of sections.
    std::optional<AnalogCascade> cascade;
    Roots roots; // rad/s
    // N(s) / D(s) with s in units of polynomial_unit_rad_per_s, highest power first; D begins
    // with 1. Multiplied out: of a high order they hold less than the sections.
    std::vector<double> numerator, denominator;
};
inline constexpr double polynomial_unit_rad_per_s = analog_unit_rad_per_s; // 1 kHz

// Refuses a sampled channel, and what cannot be designed or has no roots.
Expected<AnalogFilterText> analog_filter_of(const Study& study, const Channel& channel,
                                            Briefs& briefs);

// A section's natural frequency sqrt(a0/a2) in rad/s and Q; of first order the pole and nothing.
struct NaturalFrequency {
    double rad_per_s = 0;
    std::optional<double> q;
};
NaturalFrequency natural_frequency_of(const AnalogSection& section);
// The gain of H = gain (s^2 ...) / (s^2 ...): leading coefficient by leading coefficient.
double gain_of(const AnalogSection& section);

enum class AnalogFormat { text, csv, json };
std::string analog_text(const AnalogFilterText& filter, AnalogFormat format);

} // namespace syntonon
