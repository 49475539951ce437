// A delay, said in samples, time or way.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/design.h"
#include "core/design/field.h"
#include "core/design/fractional_delay.h"

#include <string_view>

namespace syntonon {

enum class DelayUnit { samples, ms, metres };

struct DelaySpec {
    static constexpr std::string_view kind = "delay";

    DelayUnit unit = DelayUnit::samples;
    double value = 0; // in that unit, 0 or more: the whole delay
    double speed_of_sound_m_per_s = 343;
    Interpolation interpolation = Interpolation::none; // none: the nearest whole number of samples
    int order = 3;                                     // of the interpolation

    bool operator==(const DelaySpec&) const = default;
};

inline constexpr double most_delay_s = 3600;

// Before it is made whole.
double samples_of(const DelaySpec& spec, double sample_rate_hz);
// The spec's delay said in another unit.
double value_in(DelayUnit unit, const DelaySpec& spec, double sample_rate_hz);

// Refuses a delay that is negative, longer than most_delay_s or shorter than the
// interpolation makes (least_delay_samples), naming its field.
Expected<Design> design(const DelaySpec& spec, const Brief& brief, const Watch& watch);
std::span<const NumberField<DelaySpec>> fields_of(const DelaySpec& spec);
std::string title_of(const DelaySpec& spec);
std::string summary_of(const DelaySpec& spec);
std::string spoken_name_of(const DelaySpec& spec);

std::string_view key_of(DelayUnit unit); // "samples", "ms", "metres"

} // namespace syntonon
