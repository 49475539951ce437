// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/gauss_legendre.h"

#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

struct Legendre {
    double value, slope;
};

Legendre legendre(int n, double x) {
    double last = 1, here = x;
    for (int k = 2; k <= n; ++k) {
        const double next = ((2.0 * k - 1) * x * here - (k - 1.0) * last) / k;
        last = here;
        here = next;
    }
    return {here, n * (x * here - last) / (x * x - 1)};
}

} // namespace

Quadrature gauss_legendre(int count) {
    Quadrature rule;
    for (int i = 1; i <= count; ++i) {
        double x = std::cos(std::numbers::pi * (i - 0.25) / (count + 0.5));
        for (int step = 0; step < 8; ++step) {
            const Legendre at = legendre(count, x);
            x -= at.value / at.slope;
        }
        const double slope = legendre(count, x).slope;
        rule.nodes.push_back({x, 2 / ((1 - x) * (1 + x) * slope * slope)});
    }
    return rule;
}

} // namespace syntonon
