// An analog filter's impulse response, sampled.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/mapped_roots.h"

#include <complex>

namespace syntonon {

// h[n] = T h(n T), half of it at n = 0 where the analog response jumps there, so that
//     H(z) = sum over k of H(s + j 2 pi k / T), z = e^(s T)
// (Oppenheim and Schafer, section 7.2.1; the half by Poisson's formula). Poles are e^(p T). Zeros
// are searched for with that sum, its far terms being summed by the Hurwitz zeta function of the
// expansion of H at infinity: partial fractions, and the coefficients of the numerator, would lose
// their digits with the order.
class SampledResponse {
public:
    // An analog filter whose numerator is of lower degree than its denominator.
    SampledResponse(const BandRoots& roots, ClassicalBand band, double sample_rate_hz);

    struct Value {
        std::complex<double> h, slope; // dH/ds
    };
    // H(e^(s T)), for -pi/T <= Im s <= pi/T.
    Value at(std::complex<double> s) const;
    // h[n] is 0 at n = 0 unless there is one pole more than zeros.
    int relative_degree() const { return relative_degree_; }

private:
    Value term(std::complex<double> s) const;
    void expand_at_infinity();

    std::vector<std::complex<double>> zeros_, poles_;
    double log_gain_ = 0;
    double rate_;
    int relative_degree_;
    std::vector<double> at_infinity_; // of H(s) = sum c[m] (unit / s)^(relative_degree + m)
};

SectionDrafts impulse_invariant_drafts(const BandRoots& roots, ClassicalBand band,
                                       SectionPairing pairing, double sample_rate_hz);

} // namespace syntonon
