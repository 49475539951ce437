// The prototypes whose poles have no closed form.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/prototype.h"
#include "core/math/false_position.h"
#include "core/math/gauss_legendre.h"
#include "core/math/reverse_bessel.h"
#include "core/math/roots_at_once.h"
#include "core/math/truncated_exponential.h"

#include <cmath>
#include <fmt/format.h>
#include <numeric>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

Expected<std::vector<Complex>> search(int order, double start_radius, const LogDerivative& of) {
    auto roots = roots_at_once(of, static_cast<std::size_t>(order), start_radius);
    if (!roots) {
        return refuse("order", fmt::format("the poles of order {} were not found", order),
                      "choose a lower order");
    }
    pair_conjugates(*roots);
    return std::move(*roots);
}

// s^2 by some measure -> the s left of the imaginary axis.
std::vector<Complex> left_square_roots(const std::vector<Complex>& squares) {
    std::vector<Complex> poles;
    for (const Complex& square : squares) {
        const Complex root = -std::sqrt(square);
        poles.push_back(square.imag() != 0 && square.imag() > 0 ? std::conj(root) : root);
    }
    // Each conjugate pair of squares has given the upper root first, then the lower.
    for (std::size_t i = 0; i + 1 < poles.size(); ++i) {
        if (poles[i].imag() != 0) {
            poles[i] = {poles[i].real(), std::abs(poles[i].imag())};
            poles[i + 1] = std::conj(poles[i]);
            ++i;
        }
    }
    return poles;
}

// 1 / |H(jw)|^2, H(0) = 1.
double inverse_power(const std::vector<Complex>& poles, double w) {
    return std::accumulate(poles.begin(), poles.end(), 1.0, [&](double all, const Complex& pole) {
        return all * (std::norm(Complex(0, w) - pole) / std::norm(pole));
    });
}

// The poles, scaled so that there is half power at 1 rad/s.
std::vector<Complex> with_edge_at_1(std::vector<Complex> poles) {
    // Over log w, between where the power is surely more and less than a half.
    double high = 1;
    while (inverse_power(poles, high) < 3) {
        high *= 2;
    }
    const auto off = [&](double log_w) {
        return std::log(inverse_power(poles, std::exp(log_w)) / 2);
    };
    const double edge =
        std::exp(false_position(off, std::log(high) - 30, std::log(high), 1e-17, 200).value());
    for (Complex& pole : poles) {
        pole /= edge;
    }
    return poles;
}

// The integrand of the optimum L polynomials at v = 2 w^2 - 1: the square of a sum of Legendre
// polynomials, times v + 1 for even orders.
class OptimumL {
public:
    explicit OptimumL(int order) : order_(order), rule_(gauss_legendre(order / 2 + 1)) {
        const int k = (order - 1) / 2;
        const bool is_odd = order % 2 == 1;
        weights_.resize(static_cast<std::size_t>(k) + 1);
        for (int i = 0; i <= k; ++i) {
            const bool counts = is_odd || i % 2 == k % 2;
            const double norm = is_odd ? std::sqrt(2.0) * (k + 1) : std::sqrt((k + 1.0) * (k + 2));
            weights_[static_cast<std::size_t>(i)] = counts ? (2.0 * i + 1) / norm : 0;
        }
    }

    // d/dv of 1 + L over it. The integral from -1 along a straight line: exact.
    Complex log_derivative(Complex v) const {
        const Complex half = (v + 1.0) / 2.0;
        Complex integral = 0;
        for (const Quadrature::Node& node : rule_.nodes) {
            integral += node.weight * integrand(half * (node.place + 1) - 1.0);
        }
        return integrand(v) / (1.0 + half * integral);
    }

private:
    Complex integrand(Complex v) const {
        Complex last = 0, here = 1, sum = weights_[0];
        for (std::size_t i = 1; i < weights_.size(); ++i) {
            const auto n = static_cast<double>(i);
            const Complex next = ((2 * n - 1) * v * here - (n - 1) * last) / n;
            last = here;
            here = next;
            sum += weights_[i] * here;
        }
        return order_ % 2 == 1 ? sum * sum : (v + 1.0) * sum * sum;
    }

    int order_;
    Quadrature rule_;
    std::vector<double> weights_;
};

} // namespace

Expected<Prototype> bessel_prototype(int order, BesselEdge edge) {
    if (auto ok = check_prototype_order(order); !ok) {
        return tl::unexpected(ok.error());
    }
    auto poles = search(order, 0.9 * order,
                        [&](Complex s) { return reverse_bessel_log_derivative(order, s); });
    return poles.map([&](std::vector<Complex>& found) {
        return with_level_at_0(
            {{},
             edge == BesselEdge::delay ? std::move(found) : with_edge_at_1(std::move(found)),
             1},
            1);
    });
}

Expected<Prototype> gaussian_prototype(int order) {
    if (auto ok = check_prototype_order(order); !ok) {
        return tl::unexpected(ok.error());
    }
    // |H|^2 = 1 / e(w^2), so its poles are where e(-s^2) = 0.
    auto roots = search(order, 0.7 * order,
                        [&](Complex x) { return truncated_exponential_log_derivative(order, x); });
    return roots.map([&](std::vector<Complex>& found) {
        for (Complex& x : found) {
            x = -x;
        }
        return with_level_at_0({{}, with_edge_at_1(left_square_roots(found)), 1}, 1);
    });
}

Expected<Prototype> legendre_prototype(int order) {
    if (auto ok = check_prototype_order(order); !ok) {
        return tl::unexpected(ok.error());
    }
    const OptimumL polynomial(order);
    auto roots = search(order, 1.2, [&](Complex v) { return polynomial.log_derivative(v); });
    return roots.map([&](std::vector<Complex>& found) {
        for (Complex& v : found) {
            v = -(v + 1.0) / 2.0; // v = 2 w^2 - 1 and w^2 = -s^2
        }
        return with_level_at_0({{}, left_square_roots(found), 1}, 1);
    });
}

} // namespace syntonon
