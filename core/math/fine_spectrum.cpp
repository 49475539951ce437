// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/fine_spectrum.h"

#include "core/math/fft.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <mutex>
#include <numbers>

namespace syntonon {
namespace {

constexpr double half_turn = std::numbers::pi;

constexpr int kernel_reach = 8; // bins on each side
constexpr double kernel_shape = 2.30 * 2 * kernel_reach;

// exp(kernel_shape (sqrt(1 - x^2) - 1)) with x = distance by reach.
template <class Number>
Number kernel(Number distance) {
    const Number x = distance / kernel_reach;
    const Number under = 1 - x * x;
    return under <= 0 ? Number{0} : std::exp(kernel_shape * (std::sqrt(under) - 1));
}

// The kernel between two bins, for each of the sixteen in reach, as polynomials in t, which
// goes from -1 at the lower bin to 1 at the upper: sixteen at once cost less than one exponential.
// The kernel is even, so those of the lower eight, parted into even and odd powers, give the upper
// eight too.
constexpr std::size_t in_reach = std::size_t{2} * kernel_reach;
constexpr std::size_t kernel_degree = 17;
constexpr std::size_t half_count = (kernel_degree + 1) / 2;
using LowerBins = std::array<double, kernel_reach>;
struct KernelPolynomials {
    std::array<LowerBins, half_count> even{}, odd{}; // by powers of t^2; the odd ones times t
};

// The polynomial that meets the kernel at the zeros of a Chebyshev polynomial, by discrete
// orthogonality (Mason and Handscomb, Chebyshev Polynomials, 2003, section 6.3.1), by powers of t.
std::array<long double, kernel_degree + 1> powers_of_kernel(std::size_t bin) {
    constexpr std::size_t count = kernel_degree + 1;
    std::array<long double, count> powers{};
    std::array<long double, count> before{}, now{}; // T[j - 1] and T[j], by powers
    now[0] = 1;
    for (std::size_t j = 0; j < count; ++j) {
        long double share = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const long double angle =
                std::numbers::pi_v<long double> * (static_cast<long double>(i) + 0.5L) / count;
            const long double above_lower = (std::cos(angle) + 1) / 2;
            share += kernel(above_lower + kernel_reach - 1 - static_cast<long double>(bin))
                     * std::cos(static_cast<long double>(j) * angle);
        }
        share *= (j == 0 ? 1.0L : 2.0L) / count;
        std::array<long double, count> next{};
        for (std::size_t k = 0; k < count; ++k) {
            powers[k] += share * now[k];
            next[k] = (k == 0 ? 0 : (j == 0 ? 1 : 2) * now[k - 1]) - before[k];
        }
        before = now;
        now = next;
    }
    return powers;
}

const KernelPolynomials& kernel_polynomials() {
    static const KernelPolynomials made = [] {
        KernelPolynomials all;
        for (std::size_t bin = 0; bin < kernel_reach; ++bin) {
            const auto powers = powers_of_kernel(bin);
            for (std::size_t k = 0; k < half_count; ++k) {
                all.even[k][bin] = static_cast<double>(powers[2 * k]);
                all.odd[k][bin] = static_cast<double>(powers[2 * k + 1]);
            }
        }
        return all;
    }();
    return made;
}

struct KernelValues {
    std::array<double, in_reach> value, slope; // slope by t
};
KernelValues kernel_values(double t) {
    const KernelPolynomials& of = kernel_polynomials();
    const double u = t * t;
    LowerBins even = of.even.back(), odd = of.odd.back(), even_slope{}, odd_slope{}; // by u
    for (std::size_t k = half_count - 1; k-- > 0;) {
        for (std::size_t bin = 0; bin < kernel_reach; ++bin) {
            even_slope[bin] = even_slope[bin] * u + even[bin];
            even[bin] = even[bin] * u + of.even[k][bin];
            odd_slope[bin] = odd_slope[bin] * u + odd[bin];
            odd[bin] = odd[bin] * u + of.odd[k][bin];
        }
    }
    KernelValues at;
    for (std::size_t bin = 0; bin < kernel_reach; ++bin) {
        const std::size_t mirrored = in_reach - 1 - bin;
        const double by_t = t * odd[bin];
        at.value[bin] = even[bin] + by_t;
        at.value[mirrored] = even[bin] - by_t;
        const double of_even = 2 * t * even_slope[bin];
        const double of_odd = odd[bin] + 2 * u * odd_slope[bin];
        at.slope[bin] = of_even + of_odd;
        at.slope[mirrored] = of_even - of_odd;
    }
    return at;
}

// What the samples are multiplied by before they are transformed, at 0, 1, 2, ... `count` - 1
// samples from the middle: 1 by the kernel's Fourier transform, by the trapezoidal rule at half
// bins, which a function that vanishes at its ends makes as exact as the numbers are; cosines by
// Clenshaw's recurrence, several at a time because each step waits for the one before.
std::vector<double> sample_weights(std::size_t count, std::size_t transform_length) {
    constexpr std::size_t at_a_time = 8;
    const double step = 1 / static_cast<double>(transform_length);
    std::array<double, 2 * kernel_reach + 1> weights{};
    for (int k = 0; k <= 2 * kernel_reach; ++k) {
        weights[static_cast<std::size_t>(k)] = kernel(k / 2.0) * (k == 0 ? 0.5 : 1.0);
    }
    std::vector<double> values(count + at_a_time - 1 - (count - 1) % at_a_time);
    for (std::size_t first = 0; first < values.size(); first += at_a_time) {
        std::array<double, at_a_time> c{}, next{}, after{};
        for (std::size_t i = 0; i < at_a_time; ++i) {
            c[i] = std::cos(half_turn * (static_cast<double>(first + i) * step));
        }
        for (std::size_t k = weights.size() - 1; k > 0; --k) {
            for (std::size_t i = 0; i < at_a_time; ++i) {
                const double now = weights[k] + 2 * c[i] * next[i] - after[i];
                after[i] = next[i];
                next[i] = now;
            }
        }
        for (std::size_t i = 0; i < at_a_time; ++i) {
            values[first + i] = 1 / (weights[0] + c[i] * next[i] - after[i]);
        }
    }
    return values;
}

// They are the same for every sequence of a length, and what is dragged keeps its length: the last
// are kept.
using SampleWeights = std::shared_ptr<const std::vector<double>>;
SampleWeights kept_sample_weights(std::size_t count, std::size_t transform_length) {
    struct Kept {
        std::size_t transform_length = 0;
        SampleWeights weights;
    };
    static std::mutex mutex;
    static std::array<Kept, 4> all; // the newest in front
    const auto serves = [&](const Kept& kept) {
        return kept.transform_length == transform_length && kept.weights->size() >= count;
    };
    {
        const std::lock_guard lock(mutex);
        const auto found = std::ranges::find_if(all, serves);
        if (found != all.end()) {
            std::rotate(all.begin(), found, found + 1);
            return all.front().weights;
        }
    }
    auto made =
        std::make_shared<const std::vector<double>>(sample_weights(count, transform_length));
    const std::lock_guard lock(mutex);
    std::rotate(all.begin(), all.end() - 1, all.end());
    all.front() = {transform_length, made};
    return made;
}

// a * b / c as a whole number and a fraction in [-1/2, 1/2], the product's and the quotient's
// rounding made good.
struct Parted {
    double whole, fraction;
};
Parted parted(double a, double b, double c) {
    const double product = a * b;
    const double product_rest = std::fma(a, b, -product);
    const double quotient = product / c;
    const double rest = (std::fma(-quotient, c, product) + product_rest) / c;
    const double whole = std::nearbyint(quotient);
    return {whole, (quotient - whole) + rest};
}

} // namespace

double turns_of(double hz, double samples, double sample_rate_hz) {
    return parted(hz, samples, sample_rate_hz).fraction;
}

FineSpectrum::FineSpectrum(std::span<const double> x)
    : length_(quick_fft_length(std::max<std::size_t>(2 * x.size(), std::size_t{4} * kernel_reach))),
      centre_(std::floor(static_cast<double>(x.size()) / 2)) {
    const std::size_t before = x.size() / 2; // the centre's place; the weights are even about it
    const auto weights = kept_sample_weights(before + 1, length_);
    bins_.resize(length_ / 2 + 1 + in_reach);
    const std::span inner = std::span(bins_).subspan(kernel_reach, length_ / 2 + 1);
    const std::span<double> signal = signal_in(inner);
    for (std::size_t n = before; n < x.size(); ++n) {
        signal[n - before] = x[n] * (*weights)[n - before];
    }
    for (std::size_t n = 0; n < before; ++n) {
        signal[length_ - before + n] = x[n] * (*weights)[before - n];
    }
    to_spectrum_in_place(inner, length_);
    // Beyond its ends a real sequence's spectrum goes on with conjugates.
    for (std::size_t k = 1; k <= kernel_reach; ++k) {
        bins_[kernel_reach - k] = std::conj(bins_[kernel_reach + k]);
        bins_[kernel_reach + length_ / 2 + k] = std::conj(bins_[kernel_reach + length_ / 2 - k]);
    }
}

FineSpectrum::Value FineSpectrum::at(double hz, double sample_rate_hz) const {
    if (hz < 0 || hz > sample_rate_hz / 2) { // over and over the same, below 0 Hz its conjugate
        const double turns = turns_of(hz, 1, sample_rate_hz);
        const Value found = at(std::abs(turns) * sample_rate_hz, sample_rate_hz);
        return turns >= 0 ? found : Value{std::conj(found.h), -std::conj(found.slope)};
    }
    const auto length = static_cast<double>(length_);
    const Parted place = parted(hz, length, sample_rate_hz);
    const bool is_below = place.fraction < 0; // its nearest bin
    const auto lower = static_cast<std::size_t>(place.whole) + kernel_reach - (is_below ? 1 : 0);
    const KernelValues weights = kernel_values(2 * place.fraction + (is_below ? 1 : -1));
    const std::complex<double>* bin = &bins_[lower - (kernel_reach - 1)];
    std::complex<double> sum = 0, slope = 0;
    for (std::size_t k = 0; k < in_reach; ++k) {
        sum += weights.value[k] * bin[k];
        slope += weights.slope[k] * bin[k];
    }
    slope *= length / half_turn; // t goes on by 2 from bin to bin
    // Turned from the centre to the first sample.
    const double turned = -2 * half_turn * turns_of(hz, centre_, sample_rate_hz);
    const std::complex<double> turn = std::polar(1.0, turned);
    const std::complex<double> h = turn * sum;
    return {h, turn * slope - std::complex<double>(0, centre_) * h};
}

} // namespace syntonon
