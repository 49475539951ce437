// Places and weights with which a sum is the integral of a polynomial.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <vector>

namespace syntonon {

struct Quadrature {
    struct Node {
        double place, weight;
    };
    std::vector<Node> nodes; // on [-1, 1]
};

// Exact up to a degree of 2 count - 1. Nodes by Newton's steps from where they nearly are (W. Press
// et al., Numerical Recipes, 3rd ed., section 4.6.1).
Quadrature gauss_legendre(int count);

} // namespace syntonon
