// A polynomial through given values.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <utility>
#include <vector>

namespace syntonon {

// At any number of points x, all different (J.-P. Berrut and L. N. Trefethen, Barycentric Lagrange
// interpolation, SIAM Review 46, 2004, eq. 4.2).
class Barycentric {
public:
    explicit Barycentric(std::vector<double> x);

    // 1 / prod(x[i] - x[j]), but for a common factor, which has no meaning: the largest is about 1.
    const std::vector<double>& weights() const { return weights_; }
    // One for each x; all 0 before.
    void set_values(std::vector<double> f) { f_ = std::move(f); }
    double at(double x) const;

private:
    double product_of_distances(std::size_t i, int& exponent) const;

    std::vector<double> x_, f_, weights_;
};

} // namespace syntonon
