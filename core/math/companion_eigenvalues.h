// The zeros of a polynomial as eigenvalues: near them, before they are polished.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// Of sum c[k] z^(count - 1 - k), real coefficients, leading one first and not 0: the eigenvalues of
// its companion matrix, balanced by powers of 2 (B. N. Parlett and C. Reinsch, Balancing a matrix
// for calculation of eigenvalues and eigenvectors, Numer. Math. 13, 1969). Nothing where a
// coefficient is beyond the leading one's reach or they are not found.
std::optional<std::vector<std::complex<double>>> companion_eigenvalues(std::span<const double> c);

} // namespace syntonon
