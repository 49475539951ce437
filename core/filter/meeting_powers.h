// Where the roots of a sum are looked for first, when a repeated filter is mixed or fed back.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/rational.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

// A repeated numerator a^n and denominator b^n that meet in a sum A a^n + B b^n are equal but for
// sign where (a / b)^n = -B / A: on n rays of w = a / b, each of which a quadratic at most brings
// back to z. Near the roots (where A and B hardly move, on them); none where no such powers meet.
std::vector<std::complex<double>> near_meeting_powers(std::span<const PolynomialProduct> terms);

} // namespace syntonon
