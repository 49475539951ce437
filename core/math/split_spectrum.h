// A spectrum with its parts apart: the compiler makes vectors of its products, while those of
// std::complex look for infinities first.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

struct SplitSpectrum {
    explicit SplitSpectrum(std::size_t bins) : re(bins), im(bins) {}
    std::vector<double> re, im;
};

// sum += a b, bin by bin; of one length.
inline void add_product(const SplitSpectrum& a, const SplitSpectrum& b,
                        SplitSpectrum& sum) noexcept {
    const std::size_t bins = sum.re.size();
    const double *ar = a.re.data(), *ai = a.im.data(), *br = b.re.data(), *bi = b.im.data();
    double *re = sum.re.data(), *im = sum.im.data();
    for (std::size_t i = 0; i < bins; ++i) {
        re[i] += ar[i] * br[i] - ai[i] * bi[i];
        im[i] += ar[i] * bi[i] + ai[i] * br[i];
    }
}

inline void take_apart(std::span<const std::complex<double>> bins, SplitSpectrum& out) noexcept {
    for (std::size_t i = 0; i < bins.size(); ++i) {
        out.re[i] = bins[i].real();
        out.im[i] = bins[i].imag();
    }
}

} // namespace syntonon
