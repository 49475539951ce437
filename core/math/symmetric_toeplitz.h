// Systems whose matrix has the same numbers along each diagonal.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// Symmetric, positive definite but for rounding: T[i][k] = column[|i - k|].
//
// Levinson's recursion (G. H. Golub and C. F. Van Loan, Matrix Computations, 4th ed., 2013, section
// 4.7) on T with a little added to its diagonal, as much as it needs to get through, gives the
// first column of that matrix' inverse, and so the inverse itself as sums of products of Toeplitz
// triangles (I. Gohberg and A. Semencul, 1972), applied by Fourier transforms. With it as
// preconditioner the conjugate gradients settle within few steps, however badly conditioned T is:
// what it says nothing of stays small.
class SymmetricToeplitz {
public:
    // Nothing once it is stopped, or where the matrix is not positive. n^2 steps.
    static std::optional<SymmetricToeplitz> of(std::vector<double> column,
                                               const std::function<bool()>& is_stopped);
    SymmetricToeplitz(SymmetricToeplitz&&) noexcept;
    SymmetricToeplitz& operator=(SymmetricToeplitz&&) noexcept;
    ~SymmetricToeplitz();

    // x with T x = b, b as long as the column; n log n steps.
    std::vector<double> solve(std::span<const double> b);
    std::vector<double> times(std::span<const double> x);
    // Ratio of the greatest eigenvalue to the least, by a few powers of T and its inverse; at most
    // what the added part lets it be, about 1e13.
    double condition();

private:
    struct Parts;
    explicit SymmetricToeplitz(std::unique_ptr<Parts> parts);
    std::vector<double> roughly_solved(std::span<const double> b);
    std::unique_ptr<Parts> parts_;
};

} // namespace syntonon
