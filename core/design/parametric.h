// Parametric sections: peak, shelves, simple passes, notch and all-pass.
//
// Second order: R. Bristow-Johnson, "Audio EQ Cookbook", W3C Group Note, 2021.
// First order: bilinear transform with prewarping of the analog prototypes named below
// (Oppenheim and Schafer, Discrete-Time Signal Processing, 3rd ed., section 7.2).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/design.h"
#include "core/design/field.h"
#include "core/filter/analog_cascade.h"

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class ParametricShape {
    peak,
    low_shelf,
    high_shelf,
    low_pass,
    high_pass,
    band_pass,
    notch,
    all_pass
};

inline constexpr std::array all_parametric_shapes = {
    ParametricShape::peak,     ParametricShape::low_shelf, ParametricShape::high_shelf,
    ParametricShape::low_pass, ParametricShape::high_pass, ParametricShape::band_pass,
    ParametricShape::notch,    ParametricShape::all_pass};

// How the width of a second-order section is said. The user's choice is kept; the others follow.
enum class WidthKind {
    q,             // quality factor
    bandwidth_oct, // octaves: between the -3 dB points (band-pass, notch, all-pass: of the notch it
                   // makes with its input) or the half-gain points (peak)
    slope          // shelves: 1 is the steepest that stays monotonic
};

struct Width {
    WidthKind kind = WidthKind::q;
    double value = 0.70710678118654752; // Butterworth's Q

    bool operator==(const Width&) const = default;
};

// How a section comes to the z-plane. The bilinear transform presses all frequencies up to infinity
// together below half the sample rate, so bells and shelves near there come out narrower;
// nyquist_matched follows the analog level at 0 Hz, at the section's frequency and at half the
// rate, and nearly all between (S. J. Orfanidis, Digital parametric equalizer design with
// prescribed Nyquist-frequency gain, J. Audio Eng. Soc. 45, 1997; M. Vicanek, Matched Second Order
// Digital Filters, 2016). An analog channel's sections stay as they are.
enum class ParametricMapping { bilinear, nyquist_matched };

struct ParametricSpec {
    static constexpr std::string_view kind = "parametric";

    ParametricShape shape = ParametricShape::peak;
    int order = 2;              // 1 or 2; peak, band-pass and notch exist at 2 only
    double frequency_hz = 1000; // centre, corner (-3 dB at Q = 0.7071) or shelf midpoint
    double gain_db = 0;         // peak and shelves
    Width width;                // second order
    ParametricMapping mapping = ParametricMapping::bilinear;

    bool operator==(const ParametricSpec&) const = default;
};

// A spec in one line, its width said by Q.
ParametricSpec parametric(ParametricShape shape, double frequency_hz, double gain_db, double q,
                          int order = 2);

// Limits a spec must keep; beyond them no useful double-precision section exists.
inline constexpr double greatest_gain_db = 120;
inline constexpr double least_q = 0.001;
inline constexpr double greatest_q = 100000;
inline constexpr double greatest_bandwidth_oct = 12;
inline constexpr double least_frequency_hz = 0.001;

// One section. Coefficients are computed in extended precision and rounded once. Refuses, naming
// the field: a frequency off the axis, a gain or width out of range, an order that the shape
// does not have, a width kind that the shape does not have, a mapping that cannot match.
Expected<Filter> parametric_filter(const ParametricSpec& spec, const Axis& axis);
// The prototype: what an analog channel uses and the others are mapped from.
Expected<AnalogCascade> analog_section_of(const ParametricSpec& spec, const Axis& axis);
bool can_match_nyquist(const ParametricSpec& spec); // all but the all-pass
Expected<Design> design(const ParametricSpec& spec, const Brief& brief, const Watch& watch);
std::span<const NumberField<ParametricSpec>> fields_of(const ParametricSpec& spec);
// Poles move by frequency and width, zeros that are not held at 0 Hz or half the rate by these and
// the gain.
std::vector<std::string_view> fields_moving_roots(const ParametricSpec& spec, bool poles);

bool has_gain(ParametricShape shape);
bool has_first_order(ParametricShape shape);
bool has_width(const ParametricSpec& spec);
bool accepts(ParametricShape shape, WidthKind kind);

// The spec's width said in another way, or nothing where the shape does not have that way or no
// such value exists. Equations of the note for alpha, solved for one another:
//   1/Q = 2 sinh(ln(2)/2 * bandwidth * w0/sin(w0)), analog without the w0/sin(w0),  1/Q = sqrt((A +
//   1/A)(1/slope - 1) + 2).
std::optional<double> width_as(const ParametricSpec& spec, WidthKind kind, const Axis& axis);

// The numbers on the way from the spec to the section, for second order; zeros where not used.
struct ParametricNumbers {
    double amplitude = 0; // A = 10^(gain/40)
    double w0 = 0;        // rad/sample, analog rad/s
    double alpha = 0;
    // Before normalisation; of z^0, z^-1, z^-2, analog of s^2, s, 1 with s in units of w0.
    std::array<double, 3> b{}, a{};
};
Expected<ParametricNumbers> numbers_of(const ParametricSpec& spec, const Axis& axis);

// Plain names, in the study file ("low_shelf") and for people ("Low shelf").
std::string_view key_of(ParametricShape shape);
std::string_view title_of(ParametricShape shape);
std::optional<ParametricShape> parametric_shape_from_key(std::string_view key);

std::string title_of(const ParametricSpec& spec);
std::string summary_of(const ParametricSpec& spec);
std::string spoken_name_of(const ParametricSpec& spec);

} // namespace syntonon
