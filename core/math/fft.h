// Discrete Fourier transforms of real sequences. A thin cover over FFTW.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <cstddef>
#include <memory>
#include <span>
#include <vector>

namespace syntonon {

// Of one length, with memory of its own: fill one side, transform, read the other. Not to be shared
// between threads; making and destroying one is safe in any. The same input gives the same bits.
class RealFft {
public:
    explicit RealFft(std::size_t length); // 1 or more; quick where it has small prime factors
    ~RealFft();
    RealFft(const RealFft&) = delete;
    RealFft& operator=(const RealFft&) = delete;

    std::size_t length() const { return length_; }
    std::span<double> signal();                 // length() samples
    std::span<std::complex<double>> spectrum(); // length() / 2 + 1 bins

    void to_spectrum(); // X[k] = sum x[n] e^(-2 pi j k n / length)
    void to_signal();   // x[n] = sum X[k] e^(+2 pi j k n / length): not divided by the length;
                        // destroys the spectrum
    // Otherwise done when first needed: afterwards transforming allocates nothing and takes no
    // lock.
    void plan_both_ways();

private:
    struct Arrays;
    std::size_t length_;
    std::unique_ptr<Arrays> arrays_;
};

// The same for what is too long to be held twice: `bins` holds length / 2 + 1 numbers; the signal
// is written into signal_in(bins), its first `length` numbers, and is gone afterwards.
std::span<double> signal_in(std::span<std::complex<double>> bins);
void to_spectrum_in_place(std::span<std::complex<double>> bins, std::size_t length);

// The least length of at least `least` that is quick to transform: even, of primes up to 5.
std::size_t quick_fft_length(std::size_t least);

// The first `count` samples of the convolution of a and b.
std::vector<double> convolved(std::span<const double> a, std::span<const double> b,
                              std::size_t count);

// The first `count` samples of the sequence whose convolution with `a` is 1, 0, 0, ... a[0] must
// not be 0. Newton's iteration doubles the known samples (Brent and Kung, J. ACM 25, 1978).
std::vector<double> convolution_inverse(std::span<const double> a, std::size_t count);

} // namespace syntonon
