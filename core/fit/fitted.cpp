// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fitted.h"

#include "core/base/number_text.h"
#include "core/design/roots.h"
#include "core/filter/delay.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::array fitted_matches = std::to_array<NamedValue<FittedMatch>>({
    {FittedMatch::magnitude, "magnitude", "Level"},
    {FittedMatch::complex, "complex", "Level and phase"},
    {FittedMatch::delay, "delay", "Group delay, by all-passes"},
    {FittedMatch::impulse, "impulse", "Impulse response"},
    {FittedMatch::phase, "phase", "Phase, by all-passes"},
});
constexpr std::array impulse_methods = std::to_array<NamedValue<ImpulseMethod>>({
    {ImpulseMethod::steiglitz_mcbride, "steiglitz_mcbride", "Steiglitz-McBride"},
    {ImpulseMethod::prony, "prony", "Prony"},
    {ImpulseMethod::balanced_truncation, "balanced_truncation", "Balanced truncation"},
});
constexpr std::array fitted_errors = std::to_array<NamedValue<FittedErrors>>({
    {FittedErrors::squares, "squares", "Least squares"},
    {FittedErrors::greatest, "greatest", "Least greatest error"},
});
constexpr std::array fitted_axes = std::to_array<NamedValue<FittedAxis>>({
    {FittedAxis::log_frequency, "log", "Log frequency"},
    {FittedAxis::linear_frequency, "linear", "Linear frequency"},
    {FittedAxis::warped, "warped", "Warped frequency"},
});

using FittedField = NumberField<FittedSpec>;

constexpr double longest_impulse = 8192;
constexpr int longest_fitted_delay = 1 << 20; // a channel may be far behind another

template <auto member>
constexpr FittedField field(std::string_view key, const char* caption, const char* unit,
                            Dimension dimension, double least, double most, FieldSteps steps) {
    return {key,
            caption,
            unit,
            dimension,
            least,
            most,
            steps,
            [](const FittedSpec& s) { return std::optional<double>(s.*member); },
            [](FittedSpec& s, double v) { s.*member = v; }};
}

constexpr std::array fitted_fields = std::to_array<FittedField>({
    {"order", "Order", "", Dimension::plain, 1, greatest_fitted_order, FieldSteps::whole,
     [](const FittedSpec& s) { return std::optional<double>(s.order); },
     [](FittedSpec& s, double v) { s.order = static_cast<int>(std::lround(v)); }},
    {"numerator_order", "Zeros", "", Dimension::plain, 0, greatest_fitted_order, FieldSteps::whole,
     [](const FittedSpec& s) {
         return s.numerator_order && may_state_zeros(s) ? std::optional<double>(*s.numerator_order)
                                                        : std::nullopt;
     },
     [](FittedSpec& s, double v) { // as many as poles: as if it were not stated
         const int count = static_cast<int>(std::lround(v));
         s.numerator_order = count != s.order ? std::optional(count) : std::nullopt;
     }},
    {"length", "Samples", "", Dimension::plain, 2, longest_impulse, FieldSteps::whole,
     [](const FittedSpec& s) {
         return s.match == FittedMatch::impulse ? std::optional<double>(s.length) : std::nullopt;
     },
     [](FittedSpec& s, double v) { s.length = static_cast<int>(std::lround(v)); }},
    field<&FittedSpec::from_hz>("from_hz", "From", "Hz", Dimension::frequency, 1, 1e6,
                                FieldSteps::by_ratio),
    field<&FittedSpec::to_hz>("to_hz", "to", "Hz", Dimension::frequency, 1, 1e6,
                              FieldSteps::by_ratio),
    {"warping", "Warping", "", Dimension::plain, -0.99, 0.99, FieldSteps::by_tenth,
     [](const FittedSpec& s) {
         return s.axis == FittedAxis::warped ? std::optional(s.warping) : std::nullopt;
     },
     [](FittedSpec& s, double v) { s.warping = v; }},
    {"greatest_q", "Greatest Q", "", Dimension::plain, 0.5, 10000, FieldSteps::by_ratio,
     [](const FittedSpec& s) {
         return s.match != FittedMatch::impulse ? std::optional(s.greatest_q) : std::nullopt;
     },
     [](FittedSpec& s, double v) { s.greatest_q = v; }},
});

RootsSpec roots_found(const FittedSpec& spec) {
    return {spec.zeros, spec.poles, spec.gain};
}

Working working_of(const FittedSpec& spec) {
    WorkingStep step{"What the fit found",
                     {{"N", "poles", static_cast<double>(spec.poles.size()), ""},
                      {"M", "zeros", static_cast<double>(spec.zeros.size()), ""},
                      {"g", "gain", spec.gain, ""}}};
    if (spec.delay_samples > 0) {
        step.numbers.push_back(
            {"d", "delay before the model", static_cast<double>(spec.delay_samples), "samples"});
    }
    if (spec.bound > 0) {
        step.numbers.push_back({"2 Σ σ", "bound of the error", spec.bound, ""});
    }
    return {"Recursive fit: poles and zeros found together", {step}};
}

} // namespace

std::span<const NamedValue<FittedMatch>> names_of_fitted_matches() {
    return fitted_matches;
}
std::span<const NamedValue<FittedErrors>> names_of_fitted_errors() {
    return fitted_errors;
}
std::span<const NamedValue<FittedAxis>> names_of_fitted_axes() {
    return fitted_axes;
}

bool is_fitted(const FittedSpec& spec) {
    return !spec.fitted_to.empty();
}

bool may_state_zeros(const FittedSpec& spec) {
    return spec.match != FittedMatch::delay && spec.match != FittedMatch::phase
           && (spec.match != FittedMatch::impulse
               || spec.method != ImpulseMethod::balanced_truncation);
}

bool turns_polarity(const FittedSpec& spec) {
    Roots roots;
    roots.zeros = spec.zeros;
    roots.poles = spec.poles;
    roots.gain = spec.gain;
    return value_of(roots, 1).h.real() < 0;
}

int zeros_wanted(const FittedSpec& spec) {
    return may_state_zeros(spec) ? spec.numerator_order.value_or(spec.order) : spec.order;
}

bool replaces_above(const FittedSpec& spec) {
    return spec.match == FittedMatch::impulse && spec.curve.empty() && is_fitted(spec);
}

Expected<void> check_settings(const FittedSpec& spec) {
    if (auto ok = check_fields(spec); !ok) {
        return ok;
    }
    constexpr double narrowest = 1.01; // the places of the aim shall be told apart
    if (!(spec.from_hz * narrowest <= spec.to_hz)) {
        return refuse(
            "to_hz",
            fmt::format("{} Hz is not a hundredth above from_hz, {} Hz", spec.to_hz, spec.from_hz),
            "raise it or lower from_hz");
    }
    if (spec.target) {
        if (auto ok = check(*spec.target); !ok) {
            return tl::unexpected(within("target", ok.error()));
        }
    }
    if (spec.phase_target) {
        if (auto ok = check(*spec.phase_target, "phase_deg"); !ok) {
            return tl::unexpected(within("phase_target", ok.error()));
        }
    }
    if (spec.delay_target) {
        if (auto ok = check(*spec.delay_target, "delay_ms"); !ok) {
            return tl::unexpected(within("delay_target", ok.error()));
        }
    }
    return {};
}

Expected<Design> design(const FittedSpec& spec, const Brief& brief, const Watch& watch) {
    if (auto ok = check_sampled(brief, "a recursive fit is made in the z-plane"); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    if (!(spec.delay_samples >= 0 && spec.delay_samples <= longest_fitted_delay)) {
        return refuse("delay_samples", fmt::format("{} is out of range", spec.delay_samples),
                      fmt::format("stay between 0 and {}", longest_fitted_delay));
    }
    if (!is_fitted(spec)) {
        return Design{Filter(), [spec] { return working_of(spec); }};
    }
    auto made = design(roots_found(spec), brief, watch);
    if (made && spec.delay_samples > 0) {
        made->filter = series(
            std::array{Filter(Delay{static_cast<std::size_t>(spec.delay_samples)}), made->filter});
    }
    return made;
}

std::span<const NamedValue<ImpulseMethod>> names_of_impulse_methods() {
    return impulse_methods;
}

std::span<const NumberField<FittedSpec>> fields_of(const FittedSpec&) {
    return fitted_fields;
}

std::string title_of(const FittedSpec& spec) {
    switch (spec.match) {
    case FittedMatch::delay:
        return "Delay equaliser";
    case FittedMatch::impulse:
        return "Recursive model";
    case FittedMatch::phase:
        return "Phase matching";
    default:
        return "Recursive fit";
    }
}

std::string summary_of(const FittedSpec& spec) {
    return is_fitted(spec) ? fmt::format("order {}", spec.poles.size()) : "not fitted";
}

std::string spoken_name_of(const FittedSpec& spec) {
    return fmt::format("{} of order {}", title_of(spec), spec.order);
}

} // namespace syntonon
