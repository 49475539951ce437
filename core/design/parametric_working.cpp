// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/parametric.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

WorkingStep settings_step(const ParametricSpec& spec, const ParametricNumbers& numbers,
                          const Axis& axis) {
    const double w0 = numbers.w0;
    WorkingStep step{"From the settings", {{"f0", "frequency", spec.frequency_hz, "Hz"}}};
    if (axis.is_analog()) {
        step.numbers.push_back({"Ω0", "2π f0", w0, "rad/s"});
    } else {
        step.numbers.push_back({"fs", "sample rate", axis.sample_rate_hz, "Hz"});
        step.numbers.push_back({"ω0", "2π f0 / fs", w0, "rad/sample"});
    }
    if (has_gain(spec.shape)) {
        step.numbers.push_back({"G", "gain", spec.gain_db, "dB"});
        step.numbers.push_back({"A", "10^(G/40)", numbers.amplitude, ""});
    }
    const bool is_warped = !axis.is_analog() && spec.mapping == ParametricMapping::bilinear;
    if (spec.order == 1 && is_warped) {
        step.numbers.push_back({"t", "tan(ω0/2)", std::tan(w0 / 2), ""});
        return step;
    }
    if (is_warped) {
        step.numbers.push_back({"cos ω0", "", std::cos(w0), ""});
        step.numbers.push_back({"sin ω0", "", std::sin(w0), ""});
    }
    for (const auto& [kind, symbol, meaning, unit] :
         {std::tuple{WidthKind::q, "Q", "quality factor", ""},
          {WidthKind::bandwidth_oct, "BW", "bandwidth", "oct"},
          {WidthKind::slope, "S", "shelf slope", ""}}) {
        if (const auto value = width_as(spec, kind, axis)) {
            step.numbers.push_back({symbol, meaning, *value, unit});
        }
    }
    if (is_warped) {
        step.numbers.push_back({"α", "sin ω0 / (2 Q)", numbers.alpha, ""});
    }
    return step;
}

WorkingStep quadratics_step(const ParametricNumbers& numbers, bool is_analog) {
    WorkingStep step{is_analog ? "Prototype, s by Ω0" : "Coefficients before normalisation", {}};
    for (const auto& [letter, values] : {std::pair{"b", numbers.b}, {"a", numbers.a}}) {
        for (std::size_t i = 0; i < values.size(); ++i) {
            const std::size_t name = is_analog ? values.size() - 1 - i : i;
            step.numbers.push_back({letter + std::to_string(name),
                                    is_analog ? fmt::format("of s^{}", name) : std::string(),
                                    values[i], ""});
        }
    }
    return step;
}

WorkingStep section_step(const AnalogSection& s) {
    return {"Coefficients, s in rad/s",
            {{"b2", "of s^2", s.b2, ""},
             {"b1", "of s", s.b1, ""},
             {"b0", "", s.b0, ""},
             {"a2", "of s^2", s.a2, ""},
             {"a1", "of s", s.a1, ""},
             {"a0", "", s.a0, ""}}};
}

WorkingStep section_step(const Biquad& section) {
    return {"Coefficients divided by a0",
            {{"b0", "", section.b0, ""},
             {"b1", "", section.b1, ""},
             {"b2", "", section.b2, ""},
             {"a1", "", section.a1, ""},
             {"a2", "", section.a2, ""}}};
}

// Of a spec that could be designed.
Working working_of(const ParametricSpec& spec, const Filter& filter, const Axis& axis) {
    Working shown;
    const bool is_matched = spec.mapping == ParametricMapping::nyquist_matched;
    if (axis.is_analog() || is_matched) {
        const Axis analog(axis.sample_rate_hz, Domain::analog);
        shown.method = axis.is_analog()
                           ? "The prototypes of the Audio EQ Cookbook, W3C Group Note, 2021"
                           : "Matched Second Order Digital Filters, 2016";
        shown.steps = {settings_step(spec, *numbers_of(spec, axis), axis),
                       quadratics_step(*numbers_of(spec, analog), true)};
        shown.steps.push_back(axis.is_analog()
                                  ? section_step(filter.analog_sections()->sections.front())
                                  : section_step(filter.sections()->sections.front()));
        add_roots(shown, filter, axis.sample_rate_hz);
        return shown;
    }
    const ParametricNumbers numbers = *numbers_of(spec, axis);
    shown.method = spec.order == 1
                       ? "Bilinear transform with prewarping of the first-order prototype "
                         "(Discrete-Time Signal Processing, 3rd edition, 2009, section 7.2)"
                       : "Audio EQ Cookbook, W3C Group Note, 2021";
    shown.steps = {settings_step(spec, numbers, axis), quadratics_step(numbers, false),
                   section_step(filter.sections()->sections.front())};
    add_roots(shown, filter, axis.sample_rate_hz);
    return shown;
}

} // namespace

Expected<Design> design(const ParametricSpec& spec, const Brief& brief, const Watch&) {
    auto filter = parametric_filter(spec, brief.axis());
    if (!filter) {
        return tl::unexpected(filter.error());
    }
    return Design{*filter, [spec, filter = *filter, axis = brief.axis()] {
                      return working_of(spec, filter, axis);
                  }};
}

} // namespace syntonon
