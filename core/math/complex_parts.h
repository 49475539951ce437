// Complex arithmetic without the library's care for infinities, which takes several times as long.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <cmath>
#include <complex>
#include <cstddef>
#include <limits>

namespace syntonon {

inline std::complex<double> times(const std::complex<double>& a, const std::complex<double>& b) {
    return {a.real() * b.real() - a.imag() * b.imag(), a.real() * b.imag() + a.imag() * b.real()};
}

// Where the square is far from the ends of what a double holds, without hypot's care.
inline double size_of(const std::complex<double>& a) {
    const double square = std::norm(a);
    return square > 1e-280 && square < 1e280 ? std::sqrt(square) : std::abs(a);
}

// Scaled, so that the norm neither overflows nor vanishes; infinite for 0.
inline std::complex<double> inverse_of(const std::complex<double>& a) {
    const double size = std::max(std::abs(a.real()), std::abs(a.imag()));
    if (size == 0) {
        return {std::numeric_limits<double>::infinity(), 0};
    }
    const std::complex<double> scaled = a / size;
    return std::conj(scaled) / (std::norm(scaled) * size);
}

// By squaring: as many multiplications as the exponent has binary digits.
inline std::complex<double> power_of(std::complex<double> base, std::size_t exponent) {
    std::complex<double> power = 1;
    for (; exponent > 0; exponent /= 2) {
        power = exponent % 2 == 1 ? times(power, base) : power;
        base = times(base, base);
    }
    return power;
}

} // namespace syntonon
