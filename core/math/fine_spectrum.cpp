// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/fine_spectrum.h"

#include "core/math/fft.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

constexpr double half_turn = std::numbers::pi;

constexpr int reach = 8; // bins on each side
constexpr double shape = 2.30 * 2 * reach;

struct Kernel {
    double value, slope; // slope by bins
};

// exp(shape (sqrt(1 - x^2) - 1)) with x = distance / reach.
Kernel kernel(double distance) {
    const double x = distance / reach;
    const double under = 1 - x * x;
    if (under <= 0) {
        return {0, 0};
    }
    const double root = std::sqrt(under);
    const double value = std::exp(shape * (root - 1));
    return {value, -shape * x / root * value / reach};
}

// The kernel's Fourier transform at `turns` per bin, by the trapezoidal rule at half bins, which a
// function that vanishes at its ends makes as exact as the numbers are; cosines by Clenshaw's
// recurrence, several at a time because each step waits for the one before. At 0, 1, 2, ...
// `count` - 1 times `step` turns.
std::vector<double> window_values(std::size_t count, double step) {
    constexpr std::size_t at_a_time = 8;
    std::array<double, 2 * reach + 1> weights{};
    for (int k = 0; k <= 2 * reach; ++k) {
        weights[static_cast<std::size_t>(k)] = kernel(k / 2.0).value * (k == 0 ? 0.5 : 1.0);
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
            values[first + i] = weights[0] + c[i] * next[i] - after[i];
        }
    }
    return values;
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
    : length_(quick_fft_length(std::max<std::size_t>(2 * x.size(), std::size_t{4} * reach))),
      centre_(std::floor(static_cast<double>(x.size()) / 2)) {
    const std::size_t before = x.size() / 2; // the centre's place; the window is even about it
    const auto window = window_values(before + 1, 1 / static_cast<double>(length_));
    RealFft fft(length_);
    std::ranges::fill(fft.signal(), 0.0);
    for (std::size_t n = 0; n < x.size(); ++n) {
        const std::size_t from_centre = n < before ? before - n : n - before;
        fft.signal()[(n + length_ - before) % length_] = x[n] / window[from_centre];
    }
    fft.to_spectrum();
    // Beyond its ends a real sequence's spectrum goes on with conjugates.
    const auto half = static_cast<std::ptrdiff_t>(length_ / 2);
    bins_.reserve(static_cast<std::size_t>(half) + std::size_t{2} * reach + 1);
    for (std::ptrdiff_t k = -reach; k <= half + reach; ++k) {
        const auto folded = static_cast<std::size_t>(k < 0 ? -k : k > half ? 2 * half - k : k);
        const std::complex<double> bin = fft.spectrum()[folded];
        bins_.push_back(k < 0 || k > half ? std::conj(bin) : bin);
    }
}

FineSpectrum::Value FineSpectrum::at(double hz, double sample_rate_hz) const {
    const auto length = static_cast<double>(length_);
    const Parted place = parted(hz, length, sample_rate_hz);
    const auto first = static_cast<std::size_t>(place.whole); // bins_[first + reach] is the nearest
    std::complex<double> sum = 0, slope = 0;
    for (int k = -reach; k <= reach; ++k) {
        const Kernel weight = kernel(place.fraction - k);
        const std::complex<double> bin = bins_[first + static_cast<std::size_t>(k + reach)];
        sum += weight.value * bin;
        slope += weight.slope * bin;
    }
    slope *= length / (2 * half_turn);
    // Turned from the centre to the first sample.
    const double turned = -2 * half_turn * turns_of(hz, centre_, sample_rate_hz);
    const std::complex<double> turn = std::polar(1.0, turned);
    const std::complex<double> h = turn * sum;
    return {h, turn * slope - std::complex<double>(0, centre_) * h};
}

} // namespace syntonon
