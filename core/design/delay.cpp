// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/delay.h"

#include "core/base/units.h"
#include "core/filter/delay.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double most_value = 1e10; // what counts is the time, whatever it is said in

template <DelayUnit unit>
constexpr NumberField<DelaySpec> field_in(std::string_view key, const char* caption,
                                          const char* shown_unit, FieldSteps steps) {
    return {
        key,
        caption,
        shown_unit,
        Dimension::plain,
        0,
        most_value,
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
    {"order", "Order", "", Dimension::plain, 1, 1024, FieldSteps::whole,
     [](const DelaySpec& s) {
         return s.interpolation != Interpolation::none ? std::optional<double>(s.order)
                                                       : std::nullopt;
     },
     [](DelaySpec& s, double v) {
         s.order = static_cast<int>(std::lround(v));
         // Only an interpolation has an order.
         s.interpolation =
             s.interpolation == Interpolation::none ? Interpolation::lagrange : s.interpolation;
     }},
});

const char* method_of(Interpolation interpolation) {
    switch (interpolation) {
    case Interpolation::none:
        return "The nearest whole number of samples";
    case Interpolation::lagrange:
        return "Polynomial interpolation: Splitting the unit delay, 1996, eq. 42";
    case Interpolation::all_pass:
        return "Recursive digital filters with maximally flat group delay, 1971";
    case Interpolation::windowed_sinc:
        break;
    }
    return "Sampled sinc under a Kaiser window of 60 dB, of sum 1";
}

// Up to where level and phase delay are what was asked for, within 0.1 dB and 0.01 samples.
double good_up_to_hz(const Filter& filter, double samples, double sample_rate_hz) {
    constexpr double steps = 400, level_db = 0.1, delay_samples = 0.01;
    const Probe probe(filter, sample_rate_hz);
    double good = 0;
    for (double k = 1; k < steps; ++k) {
        const double hz = sample_rate_hz / 2 * k / steps;
        const double w = rad_per_sample_from_hz(hz, sample_rate_hz);
        const double off = std::remainder(probe.phase_rad(hz) + w * samples, 2 * pi) / w;
        if (std::abs(probe.level_db(hz)) > level_db || std::abs(off) > delay_samples) {
            break;
        }
        good = hz;
    }
    return good;
}

// The interpolators' own conditions; `samples` is what was asked for.
Expected<void> check_interpolation(const DelaySpec& spec, double samples) {
    const int most = most_order(spec.interpolation);
    if (spec.order > most) {
        return refuse("order", fmt::format("{} is beyond what is told apart", spec.order),
                      fmt::format("stay at or below {}", most));
    }
    const double least = least_delay_samples(spec.interpolation, spec.order);
    const bool all_pass = spec.interpolation == Interpolation::all_pass;
    if (samples < least || (all_pass && samples <= least)) {
        return refuse(
            std::string(key_of(spec.unit)),
            fmt::format("{:.6g} samples are less than this interpolation's own delay", samples),
            fmt::format("ask for {} {} samples or lower the order",
                        all_pass ? "more than" : "at least", least));
    }
    return {};
}

Working working_of_delay(const DelaySpec& spec, const Filter& filter, double sample_rate_hz) {
    const double exact = samples_of(spec, sample_rate_hz);
    const bool is_whole = spec.interpolation == Interpolation::none;
    const double whole = is_whole ? std::round(exact) : exact;
    WorkingStep step{"Delay", {}};
    const auto in = [&](DelayUnit unit) {
        return value_in(unit, {DelayUnit::samples, whole, spec.speed_of_sound_m_per_s},
                        sample_rate_hz);
    };
    step.numbers = {{"fs", "sample rate", sample_rate_hz, "Hz"},
                    {"D", "as stated", exact, "samples"},
                    {"N", is_whole ? "whole samples" : "as made", whole, "samples"},
                    {"N − D", "rounded by", whole - exact, "samples"},
                    {"T", "N / fs", in(DelayUnit::ms), "ms"},
                    {"c", "speed of sound", spec.speed_of_sound_m_per_s, "m/s"},
                    {"s", "c T", in(DelayUnit::metres), "m"}};
    if (!is_whole) {
        step.numbers.push_back({"f", "good up to (0.1 dB, 0.01 samples)",
                                good_up_to_hz(filter, exact, sample_rate_hz), "Hz"});
    }
    return {method_of(spec.interpolation), {step}};
}

std::string amount_of(const DelaySpec& spec) {
    const char* unit = spec.unit == DelayUnit::samples ? (spec.value == 1 ? "sample" : "samples")
                       : spec.unit == DelayUnit::ms    ? "ms"
                                                       : "m";
    constexpr double many = 1e6;
    return spec.value < many ? fmt::format("{:.6g} {}", spec.value, unit)
                             : fmt::format("{:.0f} {}", spec.value, unit);
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
    if (auto ok = check_sampled(brief, "a delay is made of whole samples"); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    const double samples = samples_of(spec, brief.sample_rate_hz);
    if (!(samples <= most_delay_s * brief.sample_rate_hz)) {
        return refuse(std::string(key_of(spec.unit)),
                      fmt::format("is a delay of {:.0f} samples, {:.6f} hours", samples,
                                  samples / brief.sample_rate_hz / 3600),
                      "stay at or below one hour");
    }
    if (auto ok = check_interpolation(spec, samples); !ok) {
        return tl::unexpected(ok.error());
    }
    auto filter = fractional_delay(spec.interpolation, spec.order, samples);
    if (!filter) {
        return tl::unexpected(filter.error());
    }
    return Design{*filter, [spec, filter = *filter, rate = brief.sample_rate_hz] {
                      return working_of_delay(spec, filter, rate);
                  }};
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
