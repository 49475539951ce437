// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/ladder.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/modelled_filter.h"
#include "core/design/modelled_settings.h"
#include "core/filter/modelled/ladder.h"
#include "core/filter/modelled/ladder_filter_kernel.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using modelled::LadderResponse;
using modelled::LadderType;

constexpr double most_resonance = 2, most_linear_resonance = 0.999;

constexpr std::array ladder_types = std::to_array<NamedValue<LadderType>>({
    {LadderType::transistor, "transistor", "Transistors"},
    {LadderType::diode, "diode", "Diodes"},
});

constexpr std::array ladder_responses = std::to_array<NamedValue<LadderResponse>>({
    {LadderResponse::low_24, "low_24", "Low-pass, 24 dB/oct"},
    {LadderResponse::low_18, "low_18", "Low-pass, 18 dB/oct"},
    {LadderResponse::low_12, "low_12", "Low-pass, 12 dB/oct"},
    {LadderResponse::low_6, "low_6", "Low-pass, 6 dB/oct"},
    {LadderResponse::band_24, "band_24", "Band-pass, 2 × 12 dB/oct"},
    {LadderResponse::band_12, "band_12", "Band-pass, 2 × 6 dB/oct"},
    {LadderResponse::high_24, "high_24", "High-pass, 24 dB/oct"},
    {LadderResponse::high_12, "high_12", "High-pass, 12 dB/oct"},
    {LadderResponse::notch, "notch", "Notch"},
    {LadderResponse::all_pass, "all_pass", "All-pass"},
});

bool is_low(LadderResponse response) {
    return response <= LadderResponse::low_6;
}

constexpr std::array ladder_fields = std::to_array<NumberField<LadderSpec>>({
    {"frequency_hz", "Frequency", "Hz", Dimension::frequency, 1, greatest_analog_hz,
     FieldSteps::by_ratio, [](const LadderSpec& s) { return std::optional(s.frequency_hz); },
     [](LadderSpec& s, double v) { s.frequency_hz = v; }},
    {"resonance", "Resonance", "", Dimension::plain, 0, most_resonance, FieldSteps::by_tenth,
     [](const LadderSpec& s) { return std::optional(s.resonance); },
     [](LadderSpec& s, double v) { s.resonance = v; }},
    {"drive_db", "Drive", "dB", Dimension::level, -most_modelled_drive_db, most_modelled_drive_db,
     FieldSteps::by_one,
     [](const LadderSpec& s) {
         return s.saturating || s.drive_db != 0 ? std::optional(s.drive_db) : std::nullopt;
     },
     [](LadderSpec& s, double v) { s.drive_db = v; }},
    {"bass_compensation", "Bass kept", "", Dimension::plain, 0, 1, FieldSteps::by_tenth,
     [](const LadderSpec& s) {
         return is_low(s.response) || s.bass_compensation != 0 ? std::optional(s.bass_compensation)
                                                               : std::nullopt;
     },
     [](LadderSpec& s, double v) { s.bass_compensation = v; }},
    {"oversampling", "Oversampling", "×", Dimension::plain, 1, 8, FieldSteps::whole,
     [](const LadderSpec& s) { return std::optional<double>(s.oversampling); },
     [](LadderSpec& s, double v) { s.oversampling = static_cast<int>(std::lround(v)); }},
});

Expected<void> check(const LadderSpec& spec, const Axis& axis) {
    if (auto ok = check_fields(spec); !ok) {
        return ok;
    }
    if (auto ok = check_modelled(spec.frequency_hz, spec.oversampling, axis); !ok) {
        return ok;
    }
    if ((!spec.saturating || axis.is_analog()) && spec.resonance > most_linear_resonance) {
        return refuse(
            "resonance", fmt::format("{} lets a linear ladder grow without end", spec.resonance),
            fmt::format("stay at or below {}, or let its stages saturate{}", most_linear_resonance,
                        axis.is_analog() ? " in a sampled channel" : ""));
    }
    const double inner_hz = axis.sample_rate_hz * spec.oversampling;
    const double swing = modelled::ladder_swing(spec.type, spec.resonance, 0);
    constexpr double most_share = 0.3; // see ladder_coefficients
    if (!axis.is_analog() && spec.frequency_hz / swing > most_share * inner_hz) {
        return refuse("frequency_hz",
                      fmt::format("{} Hz is beyond {} of the rate at which it is computed ({} Hz)",
                                  spec.frequency_hz, most_share, inner_hz),
                      "raise its oversampling or lower the frequency");
    }
    return {};
}

Working working_of_ladder(const LadderSpec& spec, const Filter& filter, const Axis& axis) {
    const bool is_diode = spec.type == LadderType::diode;
    const double limit = modelled::ladder_limit(spec.type);
    Working shown{is_diode ? "F. Fontana and M. Civolani, IEEE Trans. Audio, Speech and Language "
                             "Processing 18(4), 2010; trapezoidal rule, Newton's method"
                           : "A. Huovilainen, Non-linear digital implementation of a ladder "
                             "filter, 2004; trapezoidal rule, Newton's method",
                  {}};
    WorkingStep feedback{"Feedback", {}};
    feedback.numbers = {{"k0", is_diode ? "limit: 18/19 (35/3 − 18/19) − 1/3" : "limit", limit, ""},
                        {"r", "resonance", spec.resonance, ""},
                        {"k", "r k0", spec.resonance * limit, ""}};
    if (is_low(spec.response)) {
        const double rest = is_diode ? 3 : 1, kept = spec.bass_compensation;
        feedback.numbers.push_back({"G", "at 0 Hz, (1 + b k G0) / (1 + k G0)",
                                    db_from_ratio((1 + kept * spec.resonance * limit * rest)
                                                  / (1 + spec.resonance * limit * rest)),
                                    "dB"});
    }
    shown.steps.push_back(std::move(feedback));
    if (const auto swing = modelled::self_oscillation(spec.type, spec.resonance)) {
        const double amplitude = swing->amplitude / ratio_from_db(spec.drive_db);
        shown.steps.push_back({"Swings by itself (describing function)",
                               {{"A", "of the last pole", amplitude, ""},
                                {"A", "as level", db_from_ratio(amplitude), "dBFS"},
                                {"f / fset", "before it is tuned", swing->frequency, ""},
                                {"f", "as tuned", spec.frequency_hz, "Hz"}}});
    }
    if (!axis.is_analog()) {
        const auto c =
            modelled::ladder_coefficients(spec.type, spec.frequency_hz, spec.resonance,
                                          axis.sample_rate_hz * spec.oversampling, spec.prewarped);
        shown.steps.push_back(
            integrator_step(spec.frequency_hz, c.g, spec.prewarped, spec.oversampling, axis));
    }
    const auto mix = modelled::ladder_mix(spec.type, spec.response);
    WorkingStep taps{"Taps", {}};
    for (std::size_t i = 0; i < mix.taps.size(); ++i) {
        taps.numbers.push_back({fmt::format("m{}", i),
                                i == 0 ? "behind the feedback" : fmt::format("pole {}", i),
                                mix.taps.at(i), ""});
    }
    shown.steps.push_back(std::move(taps));
    add_roots(shown, filter, axis.sample_rate_hz);
    return shown;
}

std::string note_of(const LadderSpec& spec) {
    const auto swing = modelled::self_oscillation(spec.type, spec.resonance);
    return swing ? fmt::format("swings by itself at {}, {} dBFS",
                               frequency_text(spec.frequency_hz, 4),
                               signed_text(db_from_ratio(swing->amplitude) - spec.drive_db, 1))
                 : "";
}

} // namespace

modelled::LadderBuild build_of(const LadderSpec& spec) {
    return {spec.type,      spec.response,          spec.saturating,
            spec.prewarped, spec.bass_compensation, doublings_of(spec.oversampling)};
}

modelled::LadderKnobs knobs_of(const LadderSpec& spec) {
    return {spec.frequency_hz, spec.resonance, spec.drive_db};
}

Expected<Design> design(const LadderSpec& spec, const Brief& brief, const Watch&) {
    const Axis axis = brief.axis();
    if (auto ok = check(spec, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    const Filter filter = modelled_filter(build_of(spec), knobs_of(spec), axis);
    return Design{filter, [spec, filter, axis] { return working_of_ladder(spec, filter, axis); },
                  note_of(spec)};
}

std::span<const NumberField<LadderSpec>> fields_of(const LadderSpec&) {
    return ladder_fields;
}

std::span<const NamedValue<LadderType>> names_of_ladder_types() {
    return ladder_types;
}

std::span<const NamedValue<LadderResponse>> names_of_ladder_responses() {
    return ladder_responses;
}

std::string title_of(const LadderSpec& spec) {
    return spec.type == LadderType::transistor ? "Transistor ladder" : "Diode ladder";
}

std::string summary_of(const LadderSpec& spec) {
    return fmt::format("{} r {:.3g}", frequency_text(spec.frequency_hz, 4), spec.resonance);
}

std::string spoken_name_of(const LadderSpec& spec) {
    return title_of(spec) + " " + frequency_text(spec.frequency_hz, 4);
}

} // namespace syntonon
