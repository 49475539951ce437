// How a network's signals follow from its input, and its output from errors inside.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/linear_network.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

// A polynomial in z, highest power first.
using NetworkPolynomial = std::vector<double>;

// Each path is its polynomial by `poles`.
struct NetworkPaths {
    NetworkPolynomial poles;
    NetworkPolynomial through;                // from the input to the output
    std::vector<NetworkPolynomial> to_sums;   // from the input to each sum
    std::vector<NetworkPolynomial> to_output; // from an error of each sum to the output
};

// By D. K. Faddeev's way of finding (zI - A)^-1 (F. R. Gantmacher, The Theory of Matrices, vol. 1,
// 1959, section 4.5).
NetworkPaths network_paths(const LinearNetwork& network);

// |polynomial|^2 at a place.
double power_at(std::span<const double> polynomial, std::complex<double> z);

} // namespace syntonon
