// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/window.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::array window_names = std::to_array<NamedValue<WindowShape>>({
    {WindowShape::rectangular, "rectangular", "Rectangular"},
    {WindowShape::bartlett, "bartlett", "Bartlett"},
    {WindowShape::hann, "hann", "Hann"},
    {WindowShape::hamming, "hamming", "Hamming"},
    {WindowShape::blackman, "blackman", "Blackman"},
    {WindowShape::nuttall, "nuttall", "Nuttall"},
    {WindowShape::blackman_harris, "blackman_harris", "Blackman-Harris"},
    {WindowShape::flat_top, "flat_top", "Flat-top"},
    {WindowShape::kaiser, "kaiser", "Kaiser"},
    {WindowShape::dolph_chebyshev, "dolph_chebyshev", "Dolph-Chebyshev"},
    {WindowShape::tukey, "tukey", "Tukey"},
    {WindowShape::gaussian, "gaussian", "Gaussian"},
    {WindowShape::cosine_power, "cosine_power", "Power of a cosine"},
    {WindowShape::drawn, "drawn", "Drawn"},
});

// Terms of alternating sign in cosines of whole turns over the width; none for other shapes.
std::span<const double> cosine_terms(WindowShape shape) {
    static constexpr std::array hann{0.5, 0.5}, hamming{0.54, 0.46};
    static constexpr std::array blackman{0.42, 0.5, 0.08};
    static constexpr std::array nuttall{0.355768, 0.487396, 0.144232, 0.012604};
    static constexpr std::array blackman_harris{0.35875, 0.48829, 0.14128, 0.01168};
    static constexpr std::array flat_top{0.21557895, 0.41663158, 0.277263158, 0.083578947,
                                         0.006947368};
    switch (shape) {
    case WindowShape::hann:
        return hann;
    case WindowShape::hamming:
        return hamming;
    case WindowShape::blackman:
        return blackman;
    case WindowShape::nuttall:
        return nuttall;
    case WindowShape::blackman_harris:
        return blackman_harris;
    case WindowShape::flat_top:
        return flat_top;
    default:
        return {};
    }
}

// All terms are positive: right to the last digits.
double bessel_i0(double x) {
    double sum = 1, term = 1;
    for (int k = 1; term > sum * 1e-18; ++k) {
        term *= (x / 2) / k * ((x / 2) / k);
        sum += term;
    }
    return sum;
}

double drawn_at(const std::vector<WindowPoint>& points, double place) {
    if (points.empty()) {
        return 1;
    }
    const auto after = std::ranges::upper_bound(points, place, {}, &WindowPoint::place);
    if (after == points.begin()) {
        return points.front().value;
    }
    if (after == points.end()) {
        return points.back().value;
    }
    const WindowPoint& a = *(after - 1);
    return std::lerp(a.value, after->value, (place - a.place) / (after->place - a.place));
}

// From -1 at one end to 1 at the other.
double value_at(const Window& window, double u) {
    const double inside = std::max(0.0, 1 - u * u);
    const double p = window.parameter;
    if (const auto terms = cosine_terms(window.shape); !terms.empty()) {
        // About the middle all signs are positive.
        double sum = 0;
        for (std::size_t k = 0; k < terms.size(); ++k) {
            sum += terms[k] * std::cos(pi * static_cast<double>(k) * u);
        }
        return sum;
    }
    switch (window.shape) {
    case WindowShape::bartlett:
        return 1 - std::abs(u);
    case WindowShape::kaiser:
        return bessel_i0(p * std::sqrt(inside)) / bessel_i0(p);
    case WindowShape::tukey:
        return std::abs(u) <= 1 - p || p == 0
                   ? 1
                   : (1 + std::cos(pi * (std::abs(u) - (1 - p)) / p)) / 2;
    case WindowShape::gaussian:
        return std::exp(-u * u / (2 * p * p));
    case WindowShape::cosine_power:
        return std::pow(std::max(0.0, std::cos(pi * u / 2)), p);
    case WindowShape::drawn:
        return drawn_at(window.points, (u + 1) / 2);
    default:
        return 1;
    }
}

double chebyshev_polynomial(double order, double x) {
    if (std::abs(x) <= 1) {
        return std::cos(order * std::acos(x));
    }
    return std::cosh(order * std::acosh(x));
}

// Its spectrum is a Chebyshev polynomial of x0 cos(w/2); sampled at as many places as the whole
// window has taps and transformed back about the centre.
std::vector<double> dolph_chebyshev(double attenuation_db, std::size_t length, double centre) {
    const double half = std::max(centre, static_cast<double>(length - 1) - centre);
    const auto whole = std::max(length, static_cast<std::size_t>(std::ceil(2 * half + 1 - 1e-9)));
    const auto order = static_cast<double>(whole - 1);
    const double x0 = std::cosh(std::acosh(std::pow(10, attenuation_db / 20)) / order);
    RealFft fft(whole);
    double in_the_middle = 0;
    for (std::size_t k = 0; k < fft.spectrum().size(); ++k) {
        const double w = 2 * pi * static_cast<double>(k) / static_cast<double>(whole);
        const double amplitude =
            2 * k == whole ? 0 : chebyshev_polynomial(order, x0 * std::cos(w / 2));
        fft.spectrum()[k] = std::polar(1.0, -std::remainder(w * centre, 2 * pi)) * amplitude;
        in_the_middle += (k == 0 ? 1 : 2) * amplitude;
    }
    fft.to_signal();
    std::vector<double> values(fft.signal().begin(),
                               fft.signal().begin() + static_cast<std::ptrdiff_t>(length));
    for (double& value : values) {
        value /= in_the_middle;
    }
    return values;
}

} // namespace

std::span<const NamedValue<WindowShape>> names_of_windows() {
    return window_names;
}

WindowParameter parameter_of(WindowShape shape) {
    switch (shape) {
    case WindowShape::kaiser:
        return {"β", "", 0, 400, 8};
    case WindowShape::dolph_chebyshev:
        return {"Side lobes down", "dB", 1, 300, 80};
    case WindowShape::tukey:
        return {"Tapered share", "", 0, 1, 0.5};
    case WindowShape::gaussian:
        return {"Deviation", "of half", 0.01, 100, 0.35};
    case WindowShape::cosine_power:
        return {"Exponent", "", 0, 100, 1};
    default:
        return {};
    }
}

std::vector<double> window_values(const Window& window, std::size_t length, double centre) {
    if (length < 2) {
        return std::vector<double>(length, 1.0);
    }
    if (window.shape == WindowShape::dolph_chebyshev) {
        return dolph_chebyshev(window.parameter, length, centre);
    }
    const double half = std::max(centre, static_cast<double>(length - 1) - centre);
    std::vector<double> values;
    values.reserve(length);
    for (std::size_t n = 0; n < length; ++n) {
        values.push_back(value_at(window, (static_cast<double>(n) - centre) / half));
    }
    return values;
}

std::vector<double> window_values(const Window& window, std::size_t length) {
    std::vector<double> values =
        window_values(window, length, (static_cast<double>(length) - 1) / 2);
    if (window.shape != WindowShape::drawn) {
        for (std::size_t n = 0; n < length / 2; ++n) {
            values[length - 1 - n] = values[n];
        }
    }
    return values;
}

double kaiser_beta(double attenuation_db) {
    const double a = attenuation_db;
    return a > 50    ? 0.1102 * (a - 8.7)
           : a >= 21 ? 0.5842 * std::pow(a - 21, 0.4) + 0.07886 * (a - 21)
                     : 0;
}

double kaiser_length(double attenuation_db, double transition_rad) {
    // Below 21 dB the window is rectangular, and its transition as wide as at 21.
    const double width = attenuation_db > 21 ? (attenuation_db - 7.95) / 14.36 : 0.9222;
    return width * 2 * pi / transition_rad + 1;
}

Expected<void> check(const Window& window) {
    const WindowParameter parameter = parameter_of(window.shape);
    if (!parameter.name.empty()
        && !(window.parameter >= parameter.least && window.parameter <= parameter.most)) {
        return refuse("window_parameter", fmt::format("{} is out of range", window.parameter),
                      fmt::format("{}: stay between {} and {}", parameter.name, parameter.least,
                                  parameter.most));
    }
    if (window.shape != WindowShape::drawn) {
        return {};
    }
    if (window.points.empty()) {
        return refuse("window_points", "are none", "draw at least one");
    }
    for (std::size_t i = 0; i < window.points.size(); ++i) {
        const WindowPoint& point = window.points[i];
        const bool rises = i == 0 || point.place > window.points[i - 1].place;
        if (!(point.place >= 0 && point.place <= 1) || !rises || !std::isfinite(point.value)) {
            return refuse(fmt::format("window_points[{}]", i), "is out of place",
                          "let places rise from 0 to 1 and values be numbers");
        }
    }
    return {};
}

} // namespace syntonon
