// Recursions to begin with, each turned by a number or two until its coefficients are edited.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"
#include "core/filter/rational.h"

#include <array>
#include <string_view>

namespace syntonon {

// With r = 1 - leak and w = 2 pi frequency / sample rate.
enum class RecursionForm {
    leaky_difference, // y[n] = x[n] - x[n-1] + r y[n-1]: removes what stands still
    moving_average,   // y[n] = mean of the last `length` x
    smoother,         // y[n] = (1 - p) x[n] + p y[n-1], p = e^(-1 / time constant)
    // y[n] = g x[n] + 2 p cos(w) y[n-1] - p^2 y[n-2], p = e^(-pi bandwidth / rate); g makes it 1 at
    // w (K. Steiglitz, A Digital Signal Processing Primer, 1996, section 5.3)
    resonator,
    one_pole_low_pass,  // y[n] = (1 - p) x[n] + p y[n-1], half power at w: p = c - sqrt(c^2 - 1)
                        // with c = 2 - cos(w)
    one_pole_high_pass, // y[n] = (1 + p)/2 (x[n] - x[n-1]) + p y[n-1], half power at w: p =
                        // tan(pi/4 - w/2)
    leaky_integrator,   // y[n] = x[n] + r y[n-1]
    // y[n] = x[n] + 2 cos(w) y[n-1] - y[n-2], to be run over a block only: its answer never dies
    // away (G. Goertzel, An algorithm for the evaluation of finite trigonometric series, Amer.
    // Math. Monthly 65, 1958)
    goertzel,
    // The middle of the parabola that fits the last `length` (odd) x best (A. Savitzky and M. J. E.
    // Golay, Smoothing and differentiation of data by simplified least squares procedures, Anal.
    // Chem. 36, 1964)
    parabola_smoother
};

inline constexpr std::array all_recursion_forms = {
    RecursionForm::leaky_difference,  RecursionForm::moving_average,
    RecursionForm::smoother,          RecursionForm::resonator,
    RecursionForm::one_pole_low_pass, RecursionForm::one_pole_high_pass,
    RecursionForm::leaky_integrator,  RecursionForm::goertzel,
    RecursionForm::parabola_smoother};

// Only those that the form uses count; see RecursionSpec's fields.
struct RecursionStart {
    RecursionForm form = RecursionForm::moving_average;
    int length = 9;
    double leak = 0.005;
    double time_constant_ms = 1;
    double frequency_hz = 1000;
    double bandwidth_hz = 50; // 3 dB lower at its ends, nearly
    UnknownKeys unknown = {};

    bool operator==(const RecursionStart&) const = default;
};

bool has_length(RecursionForm form);
bool has_leak(RecursionForm form);
bool has_time_constant(RecursionForm form);
bool has_frequency(RecursionForm form);
bool has_bandwidth(RecursionForm form);

inline constexpr int most_length = 201;

// Refused, naming the field: a frequency off the axis, an even length of a parabola.
Expected<Coefficients> coefficients_of(const RecursionStart& start, double sample_rate_hz);

std::string_view key_of(RecursionForm form);   // "moving_average"
std::string_view title_of(RecursionForm form); // "Moving average"

} // namespace syntonon
