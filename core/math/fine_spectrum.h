// The spectrum of a finite sequence at any frequency, from one transform.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// The fraction of `cycles_per_sample` times `samples`, in [-1/2, 1/2], where cycles_per_sample is
// hz / sample_rate_hz: the product is carried with twice the digits, so that the phase of a long
// delay is as exact as that of a short one.
double turns_of(double hz, double samples, double sample_rate_hz);

// H(w) = sum x[n] e^(-jwn) and dH/dw. The sequence, divided by a window, is transformed once at
// twice its length; between the bins the values are summed from 16 neighbours with the window's
// spectrum, the "exponential of semicircle" (Barnett, Magland and af Klinteberg, A parallel
// nonuniform fast Fourier transform library, SIAM J. Sci. Comput. 41, 2019, eq. 1.8 and 3.6-3.11).
// Right to about 1e-14 of the sum of magnitudes. Sixteen products each, however long x is.
class FineSpectrum {
public:
    explicit FineSpectrum(std::span<const double> x); // not empty

    struct Value {
        std::complex<double> h, slope; // slope by rad/sample
    };
    Value at(double hz, double sample_rate_hz) const;

    std::size_t bytes() const { return bins_.size() * sizeof(bins_.front()); }

private:
    std::size_t length_ = 0;                 // of the transform
    double centre_ = 0;                      // the sample that the transform is taken around
    std::vector<std::complex<double>> bins_; // from -reach to length_ / 2 + reach
};

} // namespace syntonon
