// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/symmetric_toeplitz.h"

#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double least_added = 1e-13, most_added = 1e-6; // to the diagonal, relative

// What solves T a = (error, 0, 0, ...) with a[0] = 1.
struct Predictor {
    std::vector<double> a;
    double error = 0;
};

// Nothing where a reflection coefficient is not below 1: T is not positive to the digits at hand.
std::optional<Predictor> levinson(const std::vector<double>& column, double diagonal,
                                  const std::function<bool()>& is_stopped) {
    constexpr std::size_t often = 64;
    const std::size_t n = column.size();
    Predictor p{std::vector<double>(n, 0.0), diagonal};
    p.a[0] = 1;
    for (std::size_t m = 1; m < n; ++m) {
        if (m % often == 0 && is_stopped()) {
            return std::nullopt;
        }
        double sum = 0;
        for (std::size_t k = 0; k < m; ++k) {
            sum += p.a[k] * column[m - k];
        }
        const double reflection = -sum / p.error;
        if (!(std::abs(reflection) < 1)) {
            return std::nullopt;
        }
        // From both ends to the middle, in place.
        for (std::size_t i = 0, k = m; i <= k; ++i, --k) {
            const double front = p.a[i], back = p.a[k];
            p.a[i] = front + reflection * back;
            p.a[k] = back + reflection * front;
        }
        p.error *= 1 - reflection * reflection;
    }
    return p;
}

double dot(std::span<const double> a, std::span<const double> b) {
    double sum = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        sum += a[i] * b[i];
    }
    return sum;
}

} // namespace

struct SymmetricToeplitz::Parts {
    Parts(const std::vector<double>& column, const Predictor& predictor)
        : n(column.size()), fft(quick_fft_length(2 * n)), error(predictor.error) {
        // The matrix as a part of a circulant one; a hair on the diagonal for what is not there.
        constexpr double hair = 1e-15;
        std::vector<double> circle(fft.length(), 0.0);
        circle[0] = column[0] * (1 + hair);
        for (std::size_t k = 1; k < n; ++k) {
            circle[k] = circle[fft.length() - k] = column[k];
        }
        matrix = spectrum_of(circle);
        std::vector<double> backwards(n, 0.0);
        std::reverse_copy(predictor.a.begin() + 1, predictor.a.end(), backwards.begin() + 1);
        forward = spectrum_of(predictor.a);
        backward = spectrum_of(backwards);
    }

    std::vector<Complex> spectrum_of(std::span<const double> values) {
        std::ranges::fill(fft.signal(), 0.0);
        std::ranges::copy(values, fft.signal().begin());
        fft.to_spectrum();
        return {fft.spectrum().begin(), fft.spectrum().end()};
    }
    // Lower triangles are convolutions cut off at n, upper ones their mirror images.
    std::vector<double> times(const std::vector<Complex>& spectrum, std::span<const double> x,
                              bool mirrored = false) {
        std::ranges::fill(fft.signal(), 0.0);
        std::ranges::copy(x, fft.signal().begin());
        fft.to_spectrum();
        for (std::size_t k = 0; k < spectrum.size(); ++k) {
            fft.spectrum()[k] *= mirrored ? std::conj(spectrum[k]) : spectrum[k];
        }
        fft.to_signal();
        std::vector<double> product(fft.signal().begin(),
                                    fft.signal().begin() + static_cast<std::ptrdiff_t>(n));
        for (double& value : product) {
            value /= static_cast<double>(fft.length());
        }
        return product;
    }

    std::size_t n;
    RealFft fft;
    double error;
    std::vector<Complex> matrix, forward, backward;
};

SymmetricToeplitz::SymmetricToeplitz(std::unique_ptr<Parts> parts) : parts_(std::move(parts)) {}
SymmetricToeplitz::SymmetricToeplitz(SymmetricToeplitz&&) noexcept = default;
SymmetricToeplitz& SymmetricToeplitz::operator=(SymmetricToeplitz&&) noexcept = default;
SymmetricToeplitz::~SymmetricToeplitz() = default;

std::optional<SymmetricToeplitz> SymmetricToeplitz::of(std::vector<double> column,
                                                       const std::function<bool()>& is_stopped) {
    for (double added = least_added; added <= most_added && !is_stopped(); added *= 10) {
        if (const auto predictor = levinson(column, column[0] * (1 + added), is_stopped)) {
            return SymmetricToeplitz(std::make_unique<Parts>(column, *predictor));
        }
    }
    return std::nullopt;
}

std::vector<double> SymmetricToeplitz::times(std::span<const double> x) {
    return parts_->times(parts_->matrix, x);
}

// (A A' - B B') b / error with the triangles of the predictor forwards and backwards.
std::vector<double> SymmetricToeplitz::roughly_solved(std::span<const double> b) {
    Parts& p = *parts_;
    auto x = p.times(p.forward, p.times(p.forward, b, true));
    const auto less = p.times(p.backward, p.times(p.backward, b, true));
    for (std::size_t i = 0; i < p.n; ++i) {
        x[i] = (x[i] - less[i]) / p.error;
    }
    return x;
}

std::vector<double> SymmetricToeplitz::solve(std::span<const double> b) {
    constexpr int most_steps = 24;
    constexpr double small_enough = 1e-14; // of b's size
    const std::size_t n = parts_->n;
    std::vector<double> x(n, 0.0), rest(b.begin(), b.end()), best = x;
    auto direction = roughly_solved(rest);
    double slope = dot(rest, direction), least = std::sqrt(dot(b, b));
    const double enough = small_enough * least;
    for (int i = 0; i < most_steps && slope > 0; ++i) {
        const auto image = times(direction);
        const double step = slope / dot(direction, image);
        for (std::size_t k = 0; k < n; ++k) {
            x[k] += step * direction[k];
            rest[k] -= step * image[k];
        }
        const double size = std::sqrt(dot(rest, rest));
        if (size < least) {
            least = size;
            best = x;
        }
        if (size <= enough) {
            break;
        }
        const auto better = roughly_solved(rest);
        const double next = dot(rest, better);
        for (std::size_t k = 0; k < n; ++k) {
            direction[k] = better[k] + next / slope * direction[k];
        }
        slope = next;
    }
    return best;
}

double SymmetricToeplitz::condition() {
    constexpr int times_of_each = 12;
    const auto greatest = [&](const auto& apply) {
        std::vector<double> x(parts_->n);
        for (std::size_t i = 0; i < x.size(); ++i) {
            x[i] = 1 + std::cos(static_cast<double>(i * i)); // something of everything
        }
        double size = 0;
        for (int i = 0; i < times_of_each; ++i) {
            const double length = std::sqrt(dot(x, x));
            for (double& value : x) {
                value /= length;
            }
            x = apply(x);
            size = std::sqrt(dot(x, x));
        }
        return size;
    };
    return greatest([this](const auto& x) { return times(x); })
           * greatest([this](const auto& x) { return roughly_solved(x); });
}

} // namespace syntonon
