// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/fft.h"

#include <algorithm>
#include <fftw3.h>
#include <functional>
#include <mutex>

namespace syntonon {
namespace {

// FFTW plans for one thread at a time.
std::mutex& planner() {
    static std::mutex mutex;
    return mutex;
}

constexpr std::size_t worth_a_transform = 64; // below, summing term by term is quicker

// An impulse is a short sequence, however long its silence.
std::span<const double> without_zeros_at_the_end(std::span<const double> x) {
    while (!x.empty() && x.back() == 0) {
        x = x.first(x.size() - 1);
    }
    return x;
}

std::vector<double> summed_convolution(std::span<const double> a, std::span<const double> b,
                                       std::size_t count) {
    std::vector<double> out(count, 0.0);
    for (std::size_t i = 0; i < std::min(a.size(), count); ++i) {
        for (std::size_t k = 0; k < std::min(b.size(), count - i); ++k) {
            out[i + k] += a[i] * b[k];
        }
    }
    return out;
}

} // namespace

struct RealFft::Plans {
    int length;
    double* signal;
    fftw_complex* spectrum;
    fftw_plan forward = nullptr,
              backward = nullptr; // made when first needed: they cost a transform

    explicit Plans(std::size_t n)
        : length(static_cast<int>(n)), signal(fftw_alloc_real(n)),
          spectrum(fftw_alloc_complex(n / 2 + 1)) {}
    // Estimated plans do not depend on how busy the machine is, so results repeat; nor do they
    // touch what stands in the arrays.
    void to_spectrum() {
        if (forward == nullptr) {
            const std::lock_guard lock(planner());
            forward = fftw_plan_dft_r2c_1d(length, signal, spectrum, FFTW_ESTIMATE);
        }
        fftw_execute(forward);
    }
    void to_signal() {
        if (backward == nullptr) {
            const std::lock_guard lock(planner());
            backward = fftw_plan_dft_c2r_1d(length, spectrum, signal, FFTW_ESTIMATE);
        }
        fftw_execute(backward);
    }
    Plans(const Plans&) = delete;
    Plans& operator=(const Plans&) = delete;
    ~Plans() {
        const std::lock_guard lock(planner());
        for (fftw_plan plan : {forward, backward}) {
            if (plan != nullptr) {
                fftw_destroy_plan(plan);
            }
        }
        fftw_free(signal);
        fftw_free(spectrum);
    }
};

RealFft::RealFft(std::size_t length) : length_(length), plans_(std::make_unique<Plans>(length)) {}
RealFft::~RealFft() = default;

std::span<double> RealFft::signal() {
    return {plans_->signal, length_};
}

std::span<std::complex<double>> RealFft::spectrum() {
    // FFTW's manual, 4.1.1: its complex numbers are laid out as those of the standard library.
    return {reinterpret_cast<std::complex<double>*>(plans_->spectrum), length_ / 2 + 1};
}

void RealFft::to_spectrum() {
    plans_->to_spectrum();
}

void RealFft::to_signal() {
    plans_->to_signal();
}

std::size_t quick_fft_length(std::size_t least) {
    for (std::size_t length = std::max<std::size_t>(2, least + least % 2);; length += 2) {
        std::size_t rest = length;
        for (const std::size_t prime : {2u, 3u, 5u}) {
            while (rest % prime == 0) {
                rest /= prime;
            }
        }
        if (rest == 1) {
            return length;
        }
    }
}

std::vector<double> convolved(std::span<const double> a, std::span<const double> b,
                              std::size_t count) {
    a = without_zeros_at_the_end(a.first(std::min(a.size(), count)));
    b = without_zeros_at_the_end(b.first(std::min(b.size(), count)));
    if (std::min(a.size(), b.size()) < worth_a_transform) {
        return summed_convolution(a, b, count);
    }
    const std::size_t length = quick_fft_length(a.size() + b.size() - 1);
    RealFft first(length), second(length);
    for (const auto& [from, fft] : {std::pair(a, &first), std::pair(b, &second)}) {
        const auto end = std::ranges::copy(from, fft->signal().begin()).out;
        std::fill(end, fft->signal().end(), 0.0);
        fft->to_spectrum();
    }
    std::ranges::transform(first.spectrum(), second.spectrum(), first.spectrum().begin(),
                           std::multiplies<>());
    first.to_signal();
    std::vector<double> out(count, 0.0);
    for (std::size_t i = 0; i < std::min(count, length); ++i) {
        out[i] = first.signal()[i] / static_cast<double>(length);
    }
    return out;
}

std::vector<double> convolution_inverse(std::span<const double> a, std::size_t count) {
    std::vector<double> inverse{1 / a[0]};
    while (inverse.size() < count) {
        // inverse <- inverse (2 - a inverse), right to twice as many samples.
        const std::size_t next = std::min(2 * inverse.size(), count);
        std::vector<double> rest = convolved(a, inverse, next);
        std::ranges::transform(rest, rest.begin(), std::negate<>());
        rest[0] += 2;
        inverse = convolved(inverse, rest, next);
    }
    inverse.resize(count);
    return inverse;
}

} // namespace syntonon
