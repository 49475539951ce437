// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/delay.h"

#include "core/filter/delay.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double most_value = 1e9; // of times and ways what counts is the number of samples

template <DelayUnit unit>
constexpr NumberField<DelaySpec> field_in(std::string_view key, const char* caption,
                                          const char* shown_unit, FieldSteps steps) {
    return {
        key,
        caption,
        shown_unit,
        Dimension::plain,
        0,
        unit == DelayUnit::samples ? most_delay_samples : most_value,
        steps,
        [](const DelaySpec& s) { return s.unit == unit ? std::optional(s.value) : std::nullopt; },
        [](DelaySpec& s, double v) {
            s.unit = unit;
            s.value = v;
        }};
}

constexpr std::array delay_fields = std::to_array<NumberField<DelaySpec>>({
    field_in<DelayUnit::samples>("samples", "Delay", "samples", FieldSteps::by_one),
    field_in<DelayUnit::ms>("ms", "or", "ms", FieldSteps::by_tenth),
    field_in<DelayUnit::metres>("metres", "or", "m", FieldSteps::by_tenth),
    {"speed_of_sound_m_per_s", "Speed of sound", "m/s", Dimension::plain, 1, 10000,
     FieldSteps::by_one,
     [](const DelaySpec& s) {
         const bool counts = s.unit == DelayUnit::metres || s.speed_of_sound_m_per_s != 343;
         return counts ? std::optional(s.speed_of_sound_m_per_s) : std::nullopt;
     },
     [](DelaySpec& s, double v) { s.speed_of_sound_m_per_s = v; }},
});

Working working_of_delay(const DelaySpec& spec, double sample_rate_hz) {
    const double exact = samples_of(spec, sample_rate_hz), whole = std::round(exact);
    WorkingStep step{"Delay", {}};
    const auto in = [&](DelayUnit unit) {
        return value_in(unit, {DelayUnit::samples, whole, spec.speed_of_sound_m_per_s},
                        sample_rate_hz);
    };
    step.numbers = {{"fs", "sample rate", sample_rate_hz, "Hz"},
                    {"D", "as stated", exact, "samples"},
                    {"N", "whole samples", whole, "samples"},
                    {"N − D", "rounded by", whole - exact, "samples"},
                    {"T", "N / fs", in(DelayUnit::ms), "ms"},
                    {"c", "speed of sound", spec.speed_of_sound_m_per_s, "m/s"},
                    {"s", "c T", in(DelayUnit::metres), "m"}};
    return {"The nearest whole number of samples", {step}};
}

std::string amount_of(const DelaySpec& spec) {
    const char* unit = spec.unit == DelayUnit::samples ? (spec.value == 1 ? "sample" : "samples")
                       : spec.unit == DelayUnit::ms    ? "ms"
                                                       : "m";
    return fmt::format("{:.6g} {}", spec.value, unit);
}

} // namespace

std::string_view key_of(DelayUnit unit) {
    return delay_fields.at(static_cast<std::size_t>(unit)).key;
}

double samples_of(const DelaySpec& spec, double sample_rate_hz) {
    switch (spec.unit) {
    case DelayUnit::samples:
        return spec.value;
    case DelayUnit::ms:
        return spec.value * 1e-3 * sample_rate_hz;
    case DelayUnit::metres:
        return spec.value / spec.speed_of_sound_m_per_s * sample_rate_hz;
    }
    return spec.value;
}

double value_in(DelayUnit unit, const DelaySpec& spec, double sample_rate_hz) {
    const DelaySpec one{unit, 1, spec.speed_of_sound_m_per_s};
    return unit == spec.unit ? spec.value
                             : samples_of(spec, sample_rate_hz) / samples_of(one, sample_rate_hz);
}

Expected<Design> design(const DelaySpec& spec, const Brief& brief, const Watch&) {
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    const double samples = std::round(samples_of(spec, brief.sample_rate_hz));
    if (!(samples <= most_delay_samples)) {
        return refuse(std::string(key_of(spec.unit)),
                      fmt::format("is a delay of {:.0f} samples", samples),
                      fmt::format("stay at or below {:.0f}", most_delay_samples));
    }
    return Design{Filter(Delay{static_cast<std::size_t>(samples)}),
                  [spec, rate = brief.sample_rate_hz] { return working_of_delay(spec, rate); }};
}

std::span<const NumberField<DelaySpec>> fields_of(const DelaySpec&) {
    return delay_fields;
}

std::string title_of(const DelaySpec&) {
    return "Delay";
}

std::string summary_of(const DelaySpec& spec) {
    return amount_of(spec);
}

std::string spoken_name_of(const DelaySpec& spec) {
    return "Delay " + amount_of(spec);
}

} // namespace syntonon
