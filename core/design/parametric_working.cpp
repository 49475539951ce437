// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/parametric.h"

#include <cmath>

namespace syntonon {
namespace {

WorkingStep settings_step(const ParametricSpec& spec, const ParametricNumbers& numbers,
                          double sample_rate_hz) {
    const double w0 = numbers.w0_rad_per_sample;
    WorkingStep step{"From the settings", {}};
    step.numbers = {{"f0", "frequency", spec.frequency_hz, "Hz"},
                    {"fs", "sample rate", sample_rate_hz, "Hz"},
                    {"ω0", "2π f0 / fs", w0, "rad/sample"}};
    if (has_gain(spec.shape)) {
        step.numbers.push_back({"G", "gain", spec.gain_db, "dB"});
        step.numbers.push_back({"A", "10^(G/40)", numbers.amplitude, ""});
    }
    if (spec.order == 1) {
        step.numbers.push_back({"t", "tan(ω0/2)", std::tan(w0 / 2), ""});
        return step;
    }
    step.numbers.push_back({"cos ω0", "", std::cos(w0), ""});
    step.numbers.push_back({"sin ω0", "", std::sin(w0), ""});
    for (const auto& [kind, symbol, meaning, unit] :
         {std::tuple{WidthKind::q, "Q", "quality factor", ""},
          {WidthKind::bandwidth_oct, "BW", "bandwidth", "oct"},
          {WidthKind::slope, "S", "shelf slope", ""}}) {
        if (const auto value = width_as(spec, kind, sample_rate_hz)) {
            step.numbers.push_back({symbol, meaning, *value, unit});
        }
    }
    step.numbers.push_back({"α", "sin ω0 / (2 Q)", numbers.alpha, ""});
    return step;
}

WorkingStep quadratics_step(const ParametricNumbers& numbers) {
    WorkingStep step{"Coefficients before normalisation", {}};
    for (const auto& [letter, values] : {std::pair{"b", numbers.b}, {"a", numbers.a}}) {
        for (std::size_t i = 0; i < values.size(); ++i) {
            step.numbers.push_back({letter + std::to_string(i), "", values[i], ""});
        }
    }
    return step;
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
Working working_of(const ParametricSpec& spec, const Filter& filter, double sample_rate_hz) {
    const ParametricNumbers numbers = *numbers_of(spec, sample_rate_hz);
    Working shown;
    shown.method = spec.order == 1
                       ? "Bilinear transform with prewarping of the first-order prototype "
                         "(Discrete-Time Signal Processing, 3rd edition, 2009, section 7.2)"
                       : "Audio EQ Cookbook, W3C Group Note, 2021";
    shown.steps = {settings_step(spec, numbers, sample_rate_hz), quadratics_step(numbers),
                   section_step(filter.sections()->sections.front())};
    add_roots(shown, filter, sample_rate_hz);
    return shown;
}

} // namespace

Expected<Design> design(const ParametricSpec& spec, const Brief& brief, const Watch&) {
    auto filter = parametric_filter(spec, brief.sample_rate_hz);
    if (!filter) {
        return tl::unexpected(filter.error());
    }
    return Design{*filter, [spec, filter = *filter, rate = brief.sample_rate_hz] {
                      return working_of(spec, filter, rate);
                  }};
}

} // namespace syntonon
