// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/barycentric.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {

Barycentric::Barycentric(std::vector<double> x) : x_(std::move(x)), f_(x_.size()) {
    weights_.reserve(x_.size());
    std::vector<int> exponents;
    for (std::size_t i = 0; i < x_.size(); ++i) {
        exponents.push_back(0);
        weights_.push_back(1 / product_of_distances(i, exponents.back()));
    }
    const int least = *std::ranges::min_element(exponents);
    for (std::size_t i = 0; i < x_.size(); ++i) {
        weights_[i] = std::ldexp(weights_[i], least - exponents[i]);
    }
}

double Barycentric::at(double x) const {
    double above = 0, below = 0;
    for (std::size_t i = 0; i < x_.size(); ++i) {
        const double part = weights_[i] / (x - x_[i]);
        above += part * f_[i];
        below += part;
    }
    if (std::isfinite(below)) {
        return above / below;
    }
    return f_[static_cast<std::size_t>(std::ranges::find(x_, x) - x_.begin())];
}

// mantissa times 2^exponent
double Barycentric::product_of_distances(std::size_t i, int& exponent) const {
    constexpr std::size_t safely = 32;
    double product = 1;
    for (std::size_t j = 0; j < x_.size(); ++j) {
        product *= j == i ? 1 : 2 * (x_[i] - x_[j]);
        if (j % safely == safely - 1) {
            int more = 0;
            product = std::frexp(product, &more);
            exponent += more;
        }
    }
    int more = 0;
    product = std::frexp(product, &more);
    exponent += more;
    return product;
}

} // namespace syntonon
