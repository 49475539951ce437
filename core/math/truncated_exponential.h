// The exponential series, cut off.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <complex>

namespace syntonon {

// e'(x) / e(x) of e(x) = sum of x^k / k! for k = 0 to n. As e^x minus the rest of the series: where
// the roots are (G. Szego, Ueber eine Eigenschaft der Exponentialreihe, 1924) the sum itself would
// cancel, and these two do not.
inline std::complex<double> truncated_exponential_log_derivative(int n, std::complex<double> x) {
    std::complex<double> last = 1; // x^n / n!
    for (int k = 1; k <= n; ++k) {
        last *= x / static_cast<double>(k);
    }
    std::complex<double> term = last, rest = 0;
    for (int k = n + 1; std::abs(term) > 1e-18 * std::abs(rest); ++k) {
        term *= x / static_cast<double>(k);
        rest += term;
    }
    return 1.0 - last / (std::exp(x) - rest);
}

} // namespace syntonon
