// Eigenvectors of a symmetric tridiagonal matrix.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <span>
#include <vector>

namespace syntonon {

// Of some of its eigenvalues, which are known: a vector of length 1 each, orthogonal to those
// before it. `below` is one shorter than `diagonal`. Inverse iteration with partial pivoting (G. H.
// Golub and C. F. Van Loan, Matrix Computations, 4th ed., section 8.4.2): work grows with the
// length, and with the square of how many are asked for.
std::vector<std::vector<double>> tridiagonal_vectors(std::span<const double> diagonal,
                                                     std::span<const double> below,
                                                     std::span<const double> eigenvalues);

} // namespace syntonon
