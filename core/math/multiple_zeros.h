// Zeros and how often each is there: put together again where rounding the coefficients drove
// apart what was one.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/math/precise_polynomial.h"

#include <complex>
#include <cstddef>
#include <functional>
#include <span>
#include <vector>

namespace syntonon {

// A real zero, or the upper one of a pair (im > 0), and how often it is there.
struct MultipleZero {
    Precise at;
    std::size_t times = 1;

    bool is_real() const { return at.im == 0; }
    std::size_t unknowns() const { return is_real() ? 1 : 2; }
};
using Multiplicities = std::vector<MultipleZero>;

// Conjugates adjacent, the upper one first, and both there or none.
Multiplicities each_once(std::span<const std::complex<double>> zeros);

// As many as there are, conjugates written out, in the order above.
std::vector<std::complex<double>> written_out(const Multiplicities& zeros);

// prod(z - zero), in the precision that holds.
Tail product_of(const Multiplicities& zeros);

// Rounding the coefficients drives an m-fold zero apart by its m-th root; where one m-fold zero
// explains the coefficients `wanted` within their rounding it is taken instead (Z. Zeng, Computing
// multiple roots of inexact polynomials, Math. Comp. 74, 2005, section 3: Gauss-Newton steps at a
// fixed structure). Goes on until no more can be merged or `is_stopped` says so.
void merge_multiples(Multiplicities& zeros, const Tail& wanted,
                     const std::function<bool()>& is_stopped);

} // namespace syntonon
