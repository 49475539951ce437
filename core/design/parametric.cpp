// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/parametric.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/nyquist_matched.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using Shape = ParametricShape;

// The coefficients of a low-frequency section crowd around 1 and -2; computing them in double adds
// a few units in the last place to the half unit that storing them costs. This keeps it at the
// half.
using Real = long double;
constexpr Real long_pi = std::numbers::pi_v<Real>;

struct Names {
    Shape shape;
    std::string_view key, title;
};
constexpr std::array names = std::to_array<Names>({
    {Shape::peak, "peak", "Peak"},
    {Shape::low_shelf, "low_shelf", "Low shelf"},
    {Shape::high_shelf, "high_shelf", "High shelf"},
    {Shape::low_pass, "low_pass", "Low-pass"},
    {Shape::high_pass, "high_pass", "High-pass"},
    {Shape::band_pass, "band_pass", "Band-pass"},
    {Shape::notch, "notch", "Notch"},
    {Shape::all_pass, "all_pass", "All-pass"},
});

const Names& names_of(Shape shape) {
    return *std::ranges::find(names, shape, &Names::shape);
}

template <WidthKind kind>
constexpr NumberField<ParametricSpec> width_field(std::string_view key, const char* caption,
                                                  const char* unit, Dimension dimension,
                                                  double least, double most) {
    return {key,
            caption,
            unit,
            dimension,
            least,
            most,
            FieldSteps::by_ratio,
            [](const ParametricSpec& s) {
                return s.width.kind == kind ? std::optional(s.width.value) : std::nullopt;
            },
            [](ParametricSpec& s, double v) {
                s.width = {kind, v};
            }};
}

constexpr std::array parametric_fields = std::to_array<NumberField<ParametricSpec>>({
    {"frequency_hz", "Frequency", "Hz", Dimension::frequency, least_frequency_hz, 1e9,
     FieldSteps::by_ratio, [](const ParametricSpec& s) { return std::optional(s.frequency_hz); },
     [](ParametricSpec& s, double v) { s.frequency_hz = v; }},
    {"gain_db", "Gain", "dB", Dimension::level, -greatest_gain_db, greatest_gain_db,
     FieldSteps::by_tenth,
     [](const ParametricSpec& s) {
         return has_gain(s.shape) || s.gain_db != 0 ? std::optional(s.gain_db) : std::nullopt;
     },
     [](ParametricSpec& s, double v) { s.gain_db = v; }},
    width_field<WidthKind::q>("q", "Q", "", Dimension::plain, least_q, greatest_q),
    width_field<WidthKind::bandwidth_oct>("bandwidth_oct", "or bandwidth", "oct",
                                          Dimension::octaves, 1e-6, greatest_bandwidth_oct),
    width_field<WidthKind::slope>("slope", "or slope", "", Dimension::plain, 1e-6, 1e6),
});

struct Quadratics {
    std::array<Real, 3> b, a;
};

Biquad normalised(const Quadratics& q) {
    const auto over_a0 = [&](Real v) { return static_cast<double>(v / q.a[0]); };
    return {over_a0(q.b[0]), over_a0(q.b[1]), over_a0(q.b[2]), over_a0(q.a[1]), over_a0(q.a[2])};
}

// From the quadratics rather than from the section, whose coefficients are rounded.
Roots roots_of(const Quadratics& q) {
    Roots roots{quadratic_roots(q.b[0], q.b[1], q.b[2]), quadratic_roots(q.a[0], q.a[1], q.a[2]),
                static_cast<double>(q.b[0] / q.a[0]), 0};
    std::erase(roots.zeros, std::complex<double>(0, 0)); // of first order
    std::erase(roots.poles, std::complex<double>(0, 0));
    return roots;
}

// A = 10^(gain/40): its square is the gain of a peak or shelf.
Real amplitude(const ParametricSpec& spec) {
    return std::pow(Real(10), Real(spec.gain_db) / 40);
}

Real angle(const ParametricSpec& spec, const Axis& axis) {
    return 2 * long_pi * Real(spec.frequency_hz) / Real(axis.sample_rate_hz);
}

// 2/Q from a slope; negative when the slope is too steep for this gain.
Real inverse_q_squared(Real A, Real slope) {
    return (A + 1 / A) * (1 / slope - 1) + 2;
}

// The note's warping of octaves: w0/sin(w0) keeps the digital bandwidth near the analog one. What
// is not warped needs none.
Real bandwidth_factor(const ParametricSpec& spec, const Axis& axis) {
    const bool is_warped = !axis.is_analog() && spec.mapping == ParametricMapping::bilinear;
    const Real w0 = angle(spec, axis);
    return std::log(Real(2)) / 2 * (is_warped ? w0 / std::sin(w0) : 1);
}

// 1/Q of the spec's width, whichever way it is said.
Real inverse_q(const ParametricSpec& spec, const Axis& axis) {
    const Real value = spec.width.value;
    switch (spec.width.kind) {
    case WidthKind::q:
        return 1 / value;
    case WidthKind::bandwidth_oct:
        return 2 * std::sinh(bandwidth_factor(spec, axis) * value);
    case WidthKind::slope:
        return std::sqrt(inverse_q_squared(amplitude(spec), value));
    }
    return 1;
}

// Numerators and denominators of the Audio EQ Cookbook, in its order and with its letters.
Quadratics second_order(Shape shape, Real A, Real w0, Real alpha) {
    const Real c = std::cos(w0);
    const Real r = 2 * std::sqrt(A) * alpha;
    switch (shape) {
    case Shape::peak:
        return {{1 + alpha * A, -2 * c, 1 - alpha * A}, {1 + alpha / A, -2 * c, 1 - alpha / A}};
    case Shape::low_shelf:
        return {
            {A * ((A + 1) - (A - 1) * c + r), 2 * A * ((A - 1) - (A + 1) * c),
             A * ((A + 1) - (A - 1) * c - r)},
            {(A + 1) + (A - 1) * c + r, -2 * ((A - 1) + (A + 1) * c), (A + 1) + (A - 1) * c - r}};
    case Shape::high_shelf:
        return {
            {A * ((A + 1) + (A - 1) * c + r), -2 * A * ((A - 1) + (A + 1) * c),
             A * ((A + 1) + (A - 1) * c - r)},
            {(A + 1) - (A - 1) * c + r, 2 * ((A - 1) - (A + 1) * c), (A + 1) - (A - 1) * c - r}};
    case Shape::low_pass:
        return {{(1 - c) / 2, 1 - c, (1 - c) / 2}, {1 + alpha, -2 * c, 1 - alpha}};
    case Shape::high_pass:
        return {{(1 + c) / 2, -(1 + c), (1 + c) / 2}, {1 + alpha, -2 * c, 1 - alpha}};
    case Shape::band_pass:
        return {{alpha, 0, -alpha}, {1 + alpha, -2 * c, 1 - alpha}};
    case Shape::notch:
        return {{1, -2 * c, 1}, {1 + alpha, -2 * c, 1 - alpha}};
    case Shape::all_pass:
        return {{1 - alpha, -2 * c, 1 + alpha}, {1 + alpha, -2 * c, 1 - alpha}};
    }
    return {{1, 0, 0}, {1, 0, 0}};
}

// (n1 s/w0 + n0) / (d1 s/w0 + d0) with s/w0 = (1/t) (1 - z^-1)/(1 + z^-1), t = tan(w0/2).
struct FirstOrderAnalog {
    Real n1, n0, d1, d0;
};

FirstOrderAnalog first_order_prototype(Shape shape, Real root_gain) {
    switch (shape) {
    case Shape::low_pass:
        return {0, 1, 1, 1};
    case Shape::high_pass:
        return {1, 0, 1, 1};
    case Shape::low_shelf:
        return {1, root_gain, 1, 1 / root_gain};
    case Shape::high_shelf:
        return {root_gain, 1, 1 / root_gain, 1};
    case Shape::all_pass:
        return {-1, 1, 1, 1};
    default:
        return {1, 1, 1, 1};
    }
}

Quadratics first_order(const ParametricSpec& spec, const Axis& axis) {
    // sqrt(G) with G = 10^(gain/20) is the second-order A.
    const FirstOrderAnalog p = first_order_prototype(spec.shape, amplitude(spec));
    const Real t = std::tan(angle(spec, axis) / 2);
    return {{p.n1 + p.n0 * t, p.n0 * t - p.n1, 0}, {p.d1 + p.d0 * t, p.d0 * t - p.d1, 0}};
}

Expected<void> check_frequency(const ParametricSpec& spec, const Axis& axis) {
    const double half = axis.end_hz();
    if (!(spec.frequency_hz >= least_frequency_hz)) {
        return refuse("frequency_hz", fmt::format("{} Hz is not above 0", spec.frequency_hz),
                      fmt::format("choose {} Hz or more", least_frequency_hz));
    }
    if (axis.is_analog() && !(spec.frequency_hz <= half)) {
        return refuse("frequency_hz", fmt::format("{} Hz is too high", spec.frequency_hz),
                      fmt::format("stay at or below {} Hz", half));
    }
    if (!axis.is_analog() && !(spec.frequency_hz < half)) {
        return refuse(
            "frequency_hz",
            fmt::format("{} Hz is not below half the sample rate ({} Hz)", spec.frequency_hz, half),
            "choose a lower frequency or a higher sample rate");
    }
    return {};
}

std::string_view field_of(WidthKind kind) {
    constexpr std::size_t before_widths = 2;
    return parametric_fields.at(before_widths + static_cast<std::size_t>(kind)).key;
}

Expected<void> check_width(const ParametricSpec& spec, const Axis& axis) {
    const std::string field(field_of(spec.width.kind));
    const double value = spec.width.value;
    if (!accepts(spec.shape, spec.width.kind)) {
        return refuse(field, fmt::format("a {} has no {}", key_of(spec.shape), field),
                      "give q instead");
    }
    if (!(value > 0) || !std::isfinite(value)) {
        return refuse(field, fmt::format("{} is not above 0", value), "give a positive number");
    }
    if (spec.width.kind == WidthKind::bandwidth_oct && value > greatest_bandwidth_oct) {
        return refuse(field, fmt::format("{} octaves is too wide", value),
                      fmt::format("give at most {} octaves", greatest_bandwidth_oct));
    }
    if (spec.width.kind == WidthKind::slope && !(inverse_q_squared(amplitude(spec), value) > 0)) {
        const Real k = amplitude(spec) + 1 / amplitude(spec);
        return refuse(field, fmt::format("{} is too steep for {} dB", value, spec.gain_db),
                      fmt::format("give less than {:.4g}", static_cast<double>(k / (k - 2))));
    }
    const double q = static_cast<double>(1 / inverse_q(spec, axis));
    if (!(q >= least_q && q <= greatest_q)) {
        return refuse(field, fmt::format("a Q of {:.4g} is out of range", q),
                      fmt::format("stay between Q {} and {}", least_q, greatest_q));
    }
    return {};
}

Expected<void> check(const ParametricSpec& spec, const Axis& axis) {
    const double sample_rate_hz = axis.sample_rate_hz;
    if (!(sample_rate_hz > 0) || !std::isfinite(sample_rate_hz)) {
        return refuse("sample_rate_hz", fmt::format("{} Hz is not a sample rate", sample_rate_hz),
                      "give a positive number");
    }
    if (spec.order != 1 && spec.order != 2) {
        return refuse("order",
                      fmt::format("{} is not an order of a parametric section", spec.order),
                      "give 1 or 2");
    }
    if (spec.order == 1 && !has_first_order(spec.shape)) {
        return refuse("order",
                      fmt::format("a {} does not exist at first order", key_of(spec.shape)),
                      "give 2");
    }
    if (auto ok = check_frequency(spec, axis); !ok) {
        return ok;
    }
    if (has_gain(spec.shape) && !(std::abs(spec.gain_db) <= greatest_gain_db)) {
        return refuse("gain_db", fmt::format("{} dB is out of range", spec.gain_db),
                      fmt::format("stay within ±{} dB", greatest_gain_db));
    }
    if (spec.mapping == ParametricMapping::nyquist_matched && !can_match_nyquist(spec)) {
        return refuse("mapping", "an all-pass has the same level everywhere; nothing is to match",
                      "use bilinear");
    }
    return has_width(spec) ? check_width(spec, axis) : Expected<void>{};
}

// The note's prototypes, by powers of s / w0, highest first.
Quadratics second_order_prototype(Shape shape, Real A, Real over_q) {
    const Real r = std::sqrt(A) * over_q;
    switch (shape) {
    case Shape::peak:
        return {{1, A * over_q, 1}, {1, over_q / A, 1}};
    case Shape::low_shelf:
        return {{A, A * r, A * A}, {A, r, 1}};
    case Shape::high_shelf:
        return {{A * A, A * r, A}, {1, r, A}};
    case Shape::low_pass:
        return {{0, 0, 1}, {1, over_q, 1}};
    case Shape::high_pass:
        return {{1, 0, 0}, {1, over_q, 1}};
    case Shape::band_pass:
        return {{0, over_q, 0}, {1, over_q, 1}};
    case Shape::notch:
        return {{1, 0, 1}, {1, over_q, 1}};
    case Shape::all_pass:
        return {{1, -over_q, 1}, {1, over_q, 1}};
    }
    return {{0, 0, 1}, {0, 0, 1}};
}

// Of first order the first place is 0.
Quadratics prototype(const ParametricSpec& spec, const Axis& axis) {
    if (spec.order == 1) {
        const FirstOrderAnalog p = first_order_prototype(spec.shape, amplitude(spec));
        return {{0, p.n1, p.n0}, {0, p.d1, p.d0}};
    }
    return second_order_prototype(spec.shape, has_gain(spec.shape) ? amplitude(spec) : 1,
                                  inverse_q(spec, axis));
}

Quadratics quadratics(const ParametricSpec& spec, const Axis& axis) {
    if (axis.is_analog()) {
        return prototype(spec, axis);
    }
    if (spec.order == 1) {
        return first_order(spec, axis);
    }
    const Real w0 = angle(spec, axis);
    const Real alpha = std::sin(w0) / 2 * inverse_q(spec, axis);
    return second_order(spec.shape, has_gain(spec.shape) ? amplitude(spec) : 1, w0, alpha);
}

// The prototype with s in rad/s, the denominator's leading coefficient 1, and its roots.
struct AnalogMade {
    AnalogSection section;
    Roots roots;
};
AnalogMade analog_made(const Quadratics& q, Real w0) {
    const bool is_second = q.a[0] != 0;
    const Real lead = is_second ? q.a[0] : q.a[1], square = is_second ? w0 * w0 : w0;
    const auto scaled = [&](const std::array<Real, 3>& c) {
        return std::array<Real, 3>{c[0] / lead, c[1] * (is_second ? w0 : 1) / lead,
                                   c[2] * square / lead};
    };
    const auto b = scaled(q.b), a = scaled(q.a);
    AnalogMade made;
    made.section = {static_cast<double>(b[0]), static_cast<double>(b[1]),
                    static_cast<double>(b[2]), static_cast<double>(a[0]),
                    static_cast<double>(a[1]), static_cast<double>(a[2])};
    made.roots.domain = Domain::analog;
    made.roots.zeros = quadratic_roots(b[0], b[1], b[2]);
    made.roots.poles = quadratic_roots(a[0], a[1], a[2]);
    made.roots.gain = static_cast<double>(b[0] != 0 ? b[0] : b[1] != 0 ? b[1] : b[2]);
    return made;
}

Real analog_w0(const ParametricSpec& spec) {
    return 2 * long_pi * Real(spec.frequency_hz);
}

} // namespace

std::span<const NumberField<ParametricSpec>> fields_of(const ParametricSpec&) {
    return parametric_fields;
}

std::vector<std::string_view> fields_moving_roots(const ParametricSpec& spec, bool poles) {
    std::vector<std::string_view> keys{"frequency_hz"};
    if (poles || spec.shape == ParametricShape::all_pass || has_gain(spec.shape)) {
        if (has_width(spec)) {
            keys.push_back(field_of(spec.width.kind));
        }
        if (!poles && has_gain(spec.shape)) {
            keys.emplace_back("gain_db");
        }
        return keys;
    }
    return spec.shape == ParametricShape::notch ? keys : std::vector<std::string_view>();
}

ParametricSpec parametric(Shape shape, double frequency_hz, double gain_db, double q, int order) {
    return {shape, order, frequency_hz, gain_db, {WidthKind::q, q}};
}

Expected<AnalogCascade> analog_section_of(const ParametricSpec& spec, const Axis& axis) {
    if (auto ok = check(spec, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    return AnalogCascade{{analog_made(prototype(spec, axis), analog_w0(spec)).section}};
}

Expected<Filter> parametric_filter(const ParametricSpec& spec, const Axis& axis) {
    if (auto ok = check(spec, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    if (axis.is_analog()) {
        AnalogMade made = analog_made(prototype(spec, axis), analog_w0(spec));
        return Filter(AnalogCascade{{made.section}}, std::move(made.roots));
    }
    if (spec.mapping == ParametricMapping::nyquist_matched) {
        const AnalogMade made = analog_made(prototype(spec, axis), analog_w0(spec));
        return nyquist_matched({made.section, made.roots, spec.frequency_hz}, axis.sample_rate_hz);
    }
    const Quadratics q = quadratics(spec, axis);
    return Filter(Cascade{{normalised(q)}}, roots_of(q));
}

bool has_gain(Shape shape) {
    return shape == Shape::peak || shape == Shape::low_shelf || shape == Shape::high_shelf;
}

bool can_match_nyquist(const ParametricSpec& spec) {
    return spec.shape != Shape::all_pass;
}

bool has_first_order(Shape shape) {
    return shape != Shape::peak && shape != Shape::band_pass && shape != Shape::notch;
}

bool has_width(const ParametricSpec& spec) {
    return spec.order == 2;
}

bool accepts(Shape shape, WidthKind kind) {
    switch (kind) {
    case WidthKind::q:
        return true;
    case WidthKind::bandwidth_oct:
        return shape == Shape::peak || shape == Shape::band_pass || shape == Shape::notch
               || shape == Shape::all_pass;
    case WidthKind::slope:
        return shape == Shape::low_shelf || shape == Shape::high_shelf;
    }
    return false;
}

std::optional<double> width_as(const ParametricSpec& spec, WidthKind kind, const Axis& axis) {
    if (!accepts(spec.shape, kind) || !check(spec, axis) || spec.order != 2) {
        return std::nullopt;
    }
    if (kind == spec.width.kind) {
        return spec.width.value;
    }
    const Real over_q = inverse_q(spec, axis);
    Real value = 1 / over_q;
    if (kind == WidthKind::bandwidth_oct) {
        value = std::asinh(over_q / 2) / bandwidth_factor(spec, axis);
    } else if (kind == WidthKind::slope) {
        const Real A = amplitude(spec);
        value = 1 / ((over_q * over_q - 2) / (A + 1 / A) + 1);
    }
    // A shelf so resonant that no slope describes it.
    const double result = static_cast<double>(value);
    return result > 0 && std::isfinite(result) ? std::optional(result) : std::nullopt;
}

Expected<ParametricNumbers> numbers_of(const ParametricSpec& spec, const Axis& axis) {
    if (auto ok = check(spec, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    ParametricNumbers shown;
    shown.amplitude = has_gain(spec.shape) ? static_cast<double>(amplitude(spec)) : 1.0;
    shown.w0 = static_cast<double>(axis.is_analog() ? analog_w0(spec) : angle(spec, axis));
    if (spec.order == 2 && !axis.is_analog()) {
        shown.alpha = static_cast<double>(std::sin(angle(spec, axis)) / 2 * inverse_q(spec, axis));
    }
    const Quadratics q = quadratics(spec, axis);
    std::ranges::transform(q.b, shown.b.begin(), [](Real v) { return static_cast<double>(v); });
    std::ranges::transform(q.a, shown.a.begin(), [](Real v) { return static_cast<double>(v); });
    return shown;
}

std::string_view key_of(Shape shape) {
    return names_of(shape).key;
}

std::string_view title_of(Shape shape) {
    return names_of(shape).title;
}

std::optional<Shape> parametric_shape_from_key(std::string_view key) {
    const auto found = std::ranges::find(names, key, &Names::key);
    return found == names.end() ? std::nullopt : std::optional(found->shape);
}

std::string title_of(const ParametricSpec& spec) {
    return std::string(title_of(spec.shape));
}

std::string spoken_name_of(const ParametricSpec& spec) {
    return title_of(spec) + " " + frequency_text(spec.frequency_hz, 4);
}

std::string summary_of(const ParametricSpec& spec) {
    std::string text = frequency_text(spec.frequency_hz, 4);
    if (has_gain(spec.shape)) {
        return text + " " + signed_text(spec.gain_db, 1) + " dB";
    }
    if (spec.order == 1) {
        return text + ", first order";
    }
    if (spec.width.kind == WidthKind::bandwidth_oct) {
        return text + fmt::format(" {:.2f} oct", spec.width.value);
    }
    return text + fmt::format(" Q {:.2f}", spec.width.value);
}

} // namespace syntonon
