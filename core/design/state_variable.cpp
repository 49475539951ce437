// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/state_variable.h"

#include "core/base/number_text.h"
#include "core/design/modelled_filter.h"
#include "core/design/modelled_settings.h"
#include "core/filter/modelled/state_variable_kernel.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using modelled::StateVariableResponse;

constexpr double most_resonance = 0.9995, most_gain_db = 60; // Q = 1000

constexpr std::array state_variable_responses = std::to_array<NamedValue<StateVariableResponse>>({
    {StateVariableResponse::low, "low", "Low-pass"},
    {StateVariableResponse::band, "band", "Band-pass"},
    {StateVariableResponse::high, "high", "High-pass"},
    {StateVariableResponse::notch, "notch", "Notch"},
    {StateVariableResponse::peak, "peak", "Peak"},
    {StateVariableResponse::all_pass, "all_pass", "All-pass"},
    {StateVariableResponse::low_shelf, "low_shelf", "Low shelf"},
    {StateVariableResponse::high_shelf, "high_shelf", "High shelf"},
});

constexpr std::array state_variable_fields = std::to_array<NumberField<StateVariableSpec>>({
    {"frequency_hz", "Frequency", "Hz", Dimension::frequency, 0.001, greatest_analog_hz,
     FieldSteps::by_ratio, [](const StateVariableSpec& s) { return std::optional(s.frequency_hz); },
     [](StateVariableSpec& s, double v) { s.frequency_hz = v; }},
    {"resonance", "Resonance", "", Dimension::plain, 0, most_resonance, FieldSteps::by_tenth,
     [](const StateVariableSpec& s) { return std::optional(s.resonance); },
     [](StateVariableSpec& s, double v) { s.resonance = v; }},
    {"gain_db", "Gain", "dB", Dimension::level, -most_gain_db, most_gain_db, FieldSteps::by_tenth,
     [](const StateVariableSpec& s) {
         return has_gain(s.response) || s.gain_db != 0 ? std::optional(s.gain_db) : std::nullopt;
     },
     [](StateVariableSpec& s, double v) { s.gain_db = v; }},
    {"in_series", "In series", "", Dimension::plain, 1, modelled::most_in_series, FieldSteps::whole,
     [](const StateVariableSpec& s) { return std::optional<double>(s.in_series); },
     [](StateVariableSpec& s, double v) { s.in_series = static_cast<int>(std::lround(v)); }},
    {"drive_db", "Drive", "dB", Dimension::level, -most_modelled_drive_db, most_modelled_drive_db,
     FieldSteps::by_one,
     [](const StateVariableSpec& s) {
         return s.saturating || s.drive_db != 0 ? std::optional(s.drive_db) : std::nullopt;
     },
     [](StateVariableSpec& s, double v) { s.drive_db = v; }},
    {"oversampling", "Oversampling", "×", Dimension::plain, 1, 8, FieldSteps::whole,
     [](const StateVariableSpec& s) { return std::optional<double>(s.oversampling); },
     [](StateVariableSpec& s, double v) { s.oversampling = static_cast<int>(std::lround(v)); }},
});

Working working_of_state_variable(const StateVariableSpec& spec, const Filter& filter,
                                  const Axis& axis) {
    Working shown{"Time-varying filters for musical applications, 2014; trapezoidal rule", {}};
    const auto c = modelled::state_variable_coefficients(
        spec.response, spec.frequency_hz, spec.resonance,
        has_gain(spec.response) ? spec.gain_db : 0, axis.sample_rate_hz * spec.oversampling,
        spec.prewarped);
    shown.steps.push_back({"Damping",
                           {{"r", "resonance", spec.resonance, ""},
                            {"Q", "1 / (2 (1 − r))", q_of(spec), ""},
                            {"2R", "1 / Q, but for a peak's gain", c.damping, ""}}});
    if (!axis.is_analog()) {
        shown.steps.push_back(
            integrator_step(spec.frequency_hz, c.g, spec.prewarped, spec.oversampling, axis));
    }
    shown.steps.push_back({"Sum",
                           {{"mx", "of the input", c.of_input, ""},
                            {"mb", "of the band", c.of_band, ""},
                            {"ml", "of the low side", c.of_low, ""}}});
    add_roots(shown, filter, axis.sample_rate_hz);
    return shown;
}

} // namespace

modelled::StateVariableBuild build_of(const StateVariableSpec& spec) {
    return {spec.response, spec.saturating, spec.prewarped,
            static_cast<std::size_t>(spec.in_series), doublings_of(spec.oversampling)};
}

modelled::StateVariableKnobs knobs_of(const StateVariableSpec& spec) {
    return {spec.frequency_hz, spec.resonance, spec.gain_db, spec.drive_db};
}

bool has_gain(StateVariableResponse response) {
    return response == StateVariableResponse::peak || response == StateVariableResponse::low_shelf
           || response == StateVariableResponse::high_shelf;
}

double q_of(const StateVariableSpec& spec) {
    return 1 / (2 * (1 - spec.resonance));
}

Expected<Design> design(const StateVariableSpec& spec, const Brief& brief, const Watch&) {
    const Axis axis = brief.axis();
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_modelled(spec.frequency_hz, spec.oversampling, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    const Filter filter = modelled_filter(build_of(spec), knobs_of(spec), axis);
    return Design{filter,
                  [spec, filter, axis] { return working_of_state_variable(spec, filter, axis); }};
}

std::span<const NumberField<StateVariableSpec>> fields_of(const StateVariableSpec&) {
    return state_variable_fields;
}

std::span<const NamedValue<StateVariableResponse>> names_of_state_variable_responses() {
    return state_variable_responses;
}

std::string title_of(const StateVariableSpec& spec) {
    return "State-variable "
           + lower_case(
               named<StateVariableResponse>(state_variable_responses, spec.response).title);
}

std::string summary_of(const StateVariableSpec& spec) {
    const std::string series = spec.in_series > 1 ? fmt::format(" × {}", spec.in_series) : "";
    return frequency_text(spec.frequency_hz, 4)
           + (has_gain(spec.response) ? " " + signed_text(spec.gain_db, 1) + " dB"
                                      : fmt::format(" Q {:.3g}", q_of(spec)))
           + series;
}

std::string spoken_name_of(const StateVariableSpec& spec) {
    return title_of(spec) + " " + frequency_text(spec.frequency_hz, 4);
}

} // namespace syntonon
