// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/modelled/half_band.h"

#include <cmath>
#include <numbers>

namespace syntonon::modelled {
namespace {

using Complex = std::complex<double>;

// Of the modulus k, by its complement.
double nome(double k) {
    const double root = std::sqrt(std::sqrt(1 - k * k)), e = 0.5 * (1 - root) / (1 + root);
    const double e4 = e * e * e * e;
    return e * (1 + e4 * (2 + e4 * (15 + e4 * 150)));
}

// sum (-1)^m q^(m (m + 1)) sin((2 m + 1) angle)
double odd_theta(double q, double angle) {
    double sum = 0;
    for (int m = 0; m < 30; ++m) {
        sum += (m % 2 == 0 ? 1 : -1) * std::pow(q, m * (m + 1)) * std::sin((2 * m + 1) * angle);
    }
    return sum;
}

// 1/2 + sum (-1)^m q^(m^2) cos(2 m angle)
double even_theta(double q, double angle) {
    double sum = 0.5;
    for (int m = 1; m < 30; ++m) {
        sum += (m % 2 == 0 ? 1 : -1) * std::pow(q, m * m) * std::cos(2 * m * angle);
    }
    return sum;
}

} // namespace

HalfBandCoefficients half_band(std::size_t sections, double transition) {
    const double tangent = std::tan((1 - 2 * transition) * std::numbers::pi / 4);
    const double k = tangent * tangent, q = nome(k);
    const auto order = static_cast<double>(2 * sections + 1);
    HalfBandCoefficients c;
    c.count = sections;
    for (std::size_t i = 0; i < sections; ++i) {
        const double angle = static_cast<double>(i + 1) * std::numbers::pi / order;
        const double ratio = std::pow(q, 0.25) * odd_theta(q, angle) / even_theta(q, angle);
        const double w = ratio * ratio;
        const double x = std::sqrt((1 - w * k) * (1 - w / k)) / (1 + w);
        c.a.at(i) = (1 - x) / (1 + x);
    }
    return c;
}

std::complex<double> response(const HalfBandCoefficients& c, double share_of_rate) {
    const Complex back = std::polar(1.0, -2 * std::numbers::pi * share_of_rate);
    std::array<Complex, 2> chains = {1, back};
    for (std::size_t i = 0; i < c.count; ++i) {
        chains.at(i % 2) *= (c.a.at(i) + back * back) / (1.0 + c.a.at(i) * back * back);
    }
    return 0.5 * (chains[0] + chains[1]);
}

} // namespace syntonon::modelled
