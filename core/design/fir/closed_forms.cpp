// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/closed_forms.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <utility>

namespace syntonon {
namespace {

double sinc(double x) {
    return x == 0 ? 1 : std::sin(pi * x) / (pi * x);
}

// A pulse over time in symbols, sampled about the middle, of sum 1.
template <class Pulse>
std::vector<double> sampled(std::size_t length, double samples_per_symbol, const Pulse& pulse) {
    const double middle = (static_cast<double>(length) - 1) / 2;
    std::vector<double> taps(length);
    for (std::size_t n = 0; n < (length + 1) / 2; ++n) {
        taps[n] = taps[length - 1 - n] =
            pulse((middle - static_cast<double>(n)) / samples_per_symbol);
    }
    const double sum = std::accumulate(taps.begin(), taps.end(), 0.0);
    for (double& tap : taps) {
        tap /= sum;
    }
    return taps;
}

// A polynomial's value and derivatives at 0, per sample, as the recurrence goes on.
using Derivatives = std::vector<double>;

} // namespace

std::vector<double> raised_cosine_taps(std::size_t length, double samples_per_symbol,
                                       double roll_off) {
    // cos(pi u/2) / (1 - u^2) with u = 2 r t, written so that u = 1 is a place like any other.
    return sampled(length, samples_per_symbol, [roll_off](double t) {
        const double u = 2 * roll_off * t;
        return sinc(t) * (pi / 2) * sinc((1 - u) / 2) / (1 + u);
    });
}

std::vector<double> root_raised_cosine_taps(std::size_t length, double samples_per_symbol,
                                            double roll_off) {
    // (sin(pi t (1 - r)) + x cos(pi t (1 + r))) / (pi t (1 - x^2)) with x = 4 r t, freed of 1 - x.
    return sampled(length, samples_per_symbol, [r = roll_off](double t) {
        if (t == 0) {
            return 1 - r + 4 * r / pi;
        }
        const double x = 4 * r * t;
        return (pi / 2 * sinc((1 - x) / 4) * std::cos(pi * t - pi / 4) - std::cos(pi * t * (1 + r)))
               / (pi * t * (1 + x));
    });
}

std::vector<double> gaussian_pulse_taps(std::size_t length, double samples_per_symbol,
                                        double bandwidth_time) {
    const double scale = 2 * pi * pi * bandwidth_time * bandwidth_time / std::numbers::ln2;
    // Against the middlemost sample, which of an even length lies beside the top: a short pulse
    // would else vanish there, too.
    const double middlemost = length % 2 == 1 ? 0 : 0.5 / samples_per_symbol;
    return sampled(length, samples_per_symbol, [=](double t) {
        return std::exp(-scale * (t - middlemost) * (t + middlemost));
    });
}

std::vector<double> moving_average_taps(std::size_t length, int power) {
    std::vector<double> taps{1};
    for (int i = 0; i < power; ++i) {
        // Up to the middle they only grow; the other half is the same.
        std::vector<double> longer(taps.size() + length - 1, 0.0);
        double sum = 0;
        for (std::size_t n = 0; n < (longer.size() + 1) / 2; ++n) {
            sum += n < taps.size() ? taps[n] : 0;
            sum -= n >= length ? taps[n - length] : 0;
            longer[n] = longer[longer.size() - 1 - n] = sum;
        }
        taps = std::move(longer);
    }
    const double sum = std::pow(static_cast<double>(length), power);
    for (double& tap : taps) {
        tap /= sum;
    }
    return taps;
}

std::vector<double> savitzky_golay_taps(std::size_t length, int degree, int derivative) {
    // Monic polynomials orthogonal over m = -(N-1)/2 .. (N-1)/2: p[k+1] = m p[k] - c[k] p[k-1],
    // c[k] = k^2 (N^2 - k^2) / (4 (4 k^2 - 1)), in units of half the length so that they stay of
    // the size of 1 (G. Szego, Orthogonal Polynomials, 1939, section 2.8).
    const auto count = static_cast<double>(length);
    const double middle = (count - 1) / 2, unit = std::max(middle, 1.0);
    std::vector<double> before(length, 0.0), p(length, 1.0), taps(length, 0.0);
    const auto orders = static_cast<std::size_t>(derivative) + 1;
    Derivatives d_before(orders, 0.0), d(orders, 0.0);
    d[0] = 1;
    for (int k = 0;; ++k) {
        const double norm = std::inner_product(p.begin(), p.end(), p.begin(), 0.0);
        for (std::size_t n = 0; n < length; ++n) {
            // Tap n weighs the sample n before the last: the place middle - n.
            taps[n] += p[length - 1 - n] * d.back() / norm;
        }
        if (k == degree) {
            break;
        }
        const double kk = static_cast<double>(k) * k;
        const double c = kk * (count * count - kk) / (4 * (4 * kk - 1)) / (unit * unit);
        std::vector<double> next(length);
        for (std::size_t n = 0; n < length; ++n) {
            next[n] = (static_cast<double>(n) - middle) / unit * p[n] - c * before[n];
        }
        Derivatives d_next(orders, 0.0);
        for (std::size_t j = 0; j < orders; ++j) {
            d_next[j] = (j > 0 ? static_cast<double>(j) * d[j - 1] / unit : 0) - c * d_before[j];
        }
        before = std::exchange(p, std::move(next));
        d_before = std::exchange(d, std::move(d_next));
    }
    return taps;
}

} // namespace syntonon
