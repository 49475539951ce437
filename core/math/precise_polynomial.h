// Polynomials in more digits than a double has.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <cstddef>
#include <mpreal.h>
#include <span>
#include <vector>

namespace syntonon {

// New numbers of this thread have so many bits until the end of the scope.
class Precision {
public:
    explicit Precision(std::size_t bits) : before_(mpfr::mpreal::get_default_prec()) {
        mpfr::mpreal::set_default_prec(static_cast<mpfr_prec_t>(bits));
    }
    ~Precision() { mpfr::mpreal::set_default_prec(before_); }
    Precision(const Precision&) = delete;
    Precision& operator=(const Precision&) = delete;

private:
    mpfr_prec_t before_;
};

// A zero's condition grows with the degree, by a few bits each.
inline std::size_t bits_for(std::size_t degree) {
    return 192 + 4 * degree;
}

// A complex number.
struct Precise {
    mpfr::mpreal re, im;
};
inline std::complex<double> to_double(const Precise& z) {
    return {z.re.toDouble(), z.im.toDouble()};
}

// A polynomial's coefficients, highest power first. Monic: the leading 1 is not written.
using Tail = std::vector<mpfr::mpreal>;

inline Tail monic_tail(std::span<const double> c) {
    Tail tail(c.size() - 1);
    for (std::size_t k = 0; k < tail.size(); ++k) {
        tail[k] = mpfr::mpreal(c[k + 1]) / c[0];
    }
    return tail;
}

} // namespace syntonon
