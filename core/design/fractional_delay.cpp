// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fractional_delay.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr std::array interpolation_keys =
    std::to_array<std::string_view>({"none", "lagrange", "all_pass", "windowed_sinc"});

// a[k] = (-1)^k C(N, k) prod (d - N + n) / (d - N + k + n) over n = 0 .. N (eq. 86).
std::vector<double> thiran_denominator(int order, double delay) {
    std::vector<double> a;
    double binomial = 1;
    for (int k = 0; k <= order; ++k) {
        double product = k % 2 == 0 ? binomial : -binomial;
        for (int n = 0; n <= order; ++n) {
            product *= (delay - order + n) / (delay - order + k + n);
        }
        a.push_back(product);
        binomial *= static_cast<double>(order - k) / (k + 1);
    }
    return a;
}

// Sections with these poles, and their mirror images as zeros.
Filter all_pass_of(const std::vector<Complex>& poles) {
    Cascade cascade;
    Roots known;
    for (std::size_t i = 0; i < poles.size(); ++i) {
        const Complex p = poles[i];
        known.poles.push_back(p);
        known.zeros.push_back(1.0 / std::conj(p));
        if (p.imag() == 0) {
            cascade.sections.push_back({-p.real(), 1, 0, -p.real(), 0});
            known.gain *= -p.real();
        } else {
            const double a1 = -2 * p.real(), a2 = std::norm(p);
            cascade.sections.push_back({a2, a1, 1, a1, a2});
            known.gain *= a2;
            known.poles.push_back(std::conj(p));
            known.zeros.push_back(1.0 / p);
            ++i; // its conjugate stands behind it
        }
    }
    return Filter(std::move(cascade), std::move(known));
}

Expected<Filter> thiran(int order, double delay) {
    // Near a whole delay poles run to z = 0, where they are a delay each.
    std::vector<double> a = thiran_denominator(order, delay);
    std::size_t at_zero = 0;
    while (a.size() > 1 && std::abs(a.back()) < 1e-15) {
        a.pop_back();
        ++at_zero;
    }
    std::vector<Filter> parts{Filter(Delay{at_zero})};
    if (a.size() > 1) {
        const auto poles = polynomial_roots(a);
        if (!poles) {
            return refuse("order", "the poles were not found", "take a lower order");
        }
        parts.push_back(all_pass_of(*poles));
    }
    return at_zero == 0 ? parts.back() : series(parts);
}

// The interpolator's own share of the delay.
double own_delay(Interpolation interpolation, int order, double samples) {
    const bool late = interpolation == Interpolation::all_pass && order > 1;
    const double least = late ? order - 0.5 : (order - 1) / 2.0;
    double own = samples - std::floor(samples - least);
    if (late && samples < least) {
        return samples;
    }
    // At its least delay an all-pass of order 1 has its pole on the circle; one more is exact.
    own += interpolation == Interpolation::all_pass && own <= order - 1 ? 1 : 0;
    return own;
}

} // namespace

// h[k] = prod (d - m) / (k - m) over all other m (eq. 42).
std::vector<double> lagrange_taps(int order, double delay) {
    std::vector<double> taps;
    for (int k = 0; k <= order; ++k) {
        double tap = 1;
        for (int m = 0; m <= order; ++m) {
            tap *= m != k ? (delay - m) / (k - m) : 1;
        }
        taps.push_back(tap);
    }
    return taps;
}

std::vector<double> sinc_taps(int order, double delay) {
    constexpr double beta = 5.653; // Kaiser's formula for 60 dB
    const double half = (order + 1) / 2.0;
    std::vector<double> taps;
    double sum = 0;
    for (int k = 0; k <= order; ++k) {
        const double t = k - delay, inside = std::max(0.0, 1 - t * t / (half * half));
        const double sinc = t == 0 ? 1 : std::sin(pi * t) / (pi * t);
        taps.push_back(sinc * std::cyl_bessel_i(0, beta * std::sqrt(inside)));
        sum += taps.back();
    }
    std::ranges::for_each(taps, [&](double& tap) { tap /= sum; });
    return taps;
}

std::string_view key_of(Interpolation interpolation) {
    return interpolation_keys.at(static_cast<std::size_t>(interpolation));
}

int most_order(Interpolation interpolation) {
    return interpolation == Interpolation::windowed_sinc ? 1024
           : interpolation == Interpolation::lagrange    ? 64
                                                         : 24;
}

double least_delay_samples(Interpolation interpolation, int order) {
    switch (interpolation) {
    case Interpolation::none:
        return 0;
    case Interpolation::all_pass:
        return order - 1;
    case Interpolation::lagrange:
    case Interpolation::windowed_sinc:
        break;
    }
    return (order - 1) / 2.0;
}

Expected<Filter> fractional_delay(Interpolation interpolation, int order, double samples) {
    if (interpolation == Interpolation::none) {
        return Filter(Delay{static_cast<std::size_t>(std::lround(samples))});
    }
    const double own = own_delay(interpolation, order, samples);
    const auto whole = static_cast<std::size_t>(std::lround(samples - own));
    auto interpolator = interpolation == Interpolation::all_pass
                            ? thiran(order, own)
                            : Expected<Filter>(Filter(Taps(interpolation == Interpolation::lagrange
                                                               ? lagrange_taps(order, own)
                                                               : sinc_taps(order, own))));
    if (!interpolator || whole == 0) {
        return interpolator;
    }
    return series(std::array{Filter(Delay{whole}), *interpolator});
}

} // namespace syntonon
