// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/recursion_start.h"

#include "core/base/units.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace syntonon {
namespace {

using Form = RecursionForm;

struct FormNames {
    Form form;
    std::string_view key, title;
};

constexpr std::array form_names = std::to_array<FormNames>({
    {Form::leaky_difference, "leaky_difference", "Leaky difference"},
    {Form::moving_average, "moving_average", "Moving average"},
    {Form::smoother, "smoother", "Smoother"},
    {Form::resonator, "resonator", "Resonator"},
    {Form::one_pole_low_pass, "one_pole_low_pass", "One-pole low-pass"},
    {Form::one_pole_high_pass, "one_pole_high_pass", "One-pole high-pass"},
    {Form::leaky_integrator, "leaky_integrator", "Leaky integrator"},
    {Form::goertzel, "goertzel", "Goertzel"},
    {Form::parabola_smoother, "parabola_smoother", "Parabola smoother"},
});

const FormNames& names_of(Form form) {
    return form_names.at(static_cast<std::size_t>(form));
}

Coefficients resonator(double w, double bandwidth_rad) {
    const double p = std::exp(-bandwidth_rad / 2);
    const double g = (1 - p) * std::sqrt(1 - 2 * p * std::cos(2 * w) + p * p);
    return {{g}, {1, -2 * p * std::cos(w), p * p}};
}

Coefficients low_pass(double w) {
    // 1 - p = sqrt(d^2 + 2 d) - d with d = 1 - cos(w) = 2 sin^2(w/2), which keeps its digits.
    const double d = 2 * std::sin(w / 2) * std::sin(w / 2);
    const double rest = std::sqrt(d * (d + 2)) - d;
    return {{rest}, {1, rest - 1}};
}

Coefficients high_pass(double w) {
    const double p = std::tan(std::numbers::pi / 4 - w / 2);
    return {{(1 + p) / 2, -(1 + p) / 2}, {1, -p}};
}

// h[i] = 3 (3 m^2 + 3 m - 1 - 5 i^2) / ((2 m - 1)(2 m + 1)(2 m + 3)), i from -m to m.
Coefficients parabola(int length) {
    const double m = (length - 1.0) / 2;
    std::vector<double> h;
    for (int k = 0; k < length; ++k) {
        const double i = k - m;
        h.push_back(3 * (3 * m * m + 3 * m - 1 - 5 * i * i)
                    / ((2 * m - 1) * (2 * m + 1) * (2 * m + 3)));
    }
    return {h, {1}};
}

} // namespace

bool has_length(Form form) {
    return form == Form::moving_average || form == Form::parabola_smoother;
}

bool has_leak(Form form) {
    return form == Form::leaky_difference || form == Form::leaky_integrator;
}

bool has_time_constant(Form form) {
    return form == Form::smoother;
}

bool has_frequency(Form form) {
    return form == Form::resonator || form == Form::one_pole_low_pass
           || form == Form::one_pole_high_pass || form == Form::goertzel;
}

bool has_bandwidth(Form form) {
    return form == Form::resonator;
}

Expected<Coefficients> coefficients_of(const RecursionStart& start, double sample_rate_hz) {
    if (has_frequency(start.form) && !(start.frequency_hz < sample_rate_hz / 2)) {
        return refuse("frequency_hz",
                      fmt::format("{} Hz is not below half the sample rate ({} Hz)",
                                  start.frequency_hz, sample_rate_hz / 2),
                      "choose a lower frequency");
    }
    const double w = rad_per_sample_from_hz(start.frequency_hz, sample_rate_hz);
    switch (start.form) {
    case Form::leaky_difference:
        return Coefficients{{1, -1}, {1, start.leak - 1}};
    case Form::moving_average: {
        const auto length = static_cast<std::size_t>(start.length);
        return Coefficients{std::vector<double>(length, 1.0 / start.length), {1}};
    }
    case Form::smoother: {
        const double samples = start.time_constant_ms / 1e3 * sample_rate_hz;
        return Coefficients{{-std::expm1(-1 / samples)}, {1, -std::exp(-1 / samples)}};
    }
    case Form::resonator:
        return resonator(w, rad_per_sample_from_hz(start.bandwidth_hz, sample_rate_hz));
    case Form::one_pole_low_pass:
        return low_pass(w);
    case Form::one_pole_high_pass:
        return high_pass(w);
    case Form::leaky_integrator:
        return Coefficients{{1}, {1, start.leak - 1}};
    case Form::goertzel:
        return Coefficients{{1}, {1, -2 * std::cos(w), 1}};
    case Form::parabola_smoother:
        break;
    }
    if (start.length % 2 == 0) {
        return refuse("length", fmt::format("{} is even: it has no middle", start.length),
                      fmt::format("take {} or {}", start.length - 1, start.length + 1));
    }
    return parabola(start.length);
}

std::string_view key_of(Form form) {
    return names_of(form).key;
}

std::string_view title_of(Form form) {
    return names_of(form).title;
}

} // namespace syntonon
