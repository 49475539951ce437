// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/line_moments.h"

#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double few_turns = 0.5; // below it the closed form cancels

// The integral over one line at one t, by its middle: half the width is h, the middle value m, the
// rise over half the width r. e^(jct) times the integral over -h .. h of (m + r u/h) e^(jut).
Complex moment(const LinePiece& line, double t) {
    const double h = (line.to - line.from) / 2, c = (line.to + line.from) / 2;
    const double m = (line.at_from + line.at_to) / 2, r = (line.at_to - line.at_from) / 2;
    const double x = h * t;
    double even = 0, odd = 0; // sin x / x, (sin x - x cos x) / x^2
    if (std::abs(x) < few_turns) {
        // Series in x^2: sum (-1)^k x^2k / (2k + 1)!, and x sum (-1)^k x^2k 2 (k + 1) / (2k + 3)!.
        double term = 1;
        for (int k = 0; k < 9; ++k) {
            even += term;
            odd += term / (2 * k + 3);
            term *= -x * x / ((2 * k + 2) * (2 * k + 3));
        }
        odd *= x;
    } else {
        even = std::sin(x) / x;
        odd = (std::sin(x) - x * std::cos(x)) / (x * x);
    }
    return 2 * h * std::polar(1.0, c * t) * Complex(m * even, r * odd);
}

// (f1 e1 - f0 e0) / (jt) + slope (e1 - e0) / t^2: by parts. Where a line's share cancels at this t
// it is summed on its own.
class Sum {
public:
    Sum(std::span<const LinePiece> lines, double first, std::size_t count)
        : lines_(lines), first_(first), moments_(count) {}

    std::vector<Complex> worked_out() {
        for (const LinePiece& line : lines_) {
            if (line.to > line.from) {
                add(line);
            }
        }
        return std::move(moments_);
    }

private:
    double time(std::size_t n) const { return first_ + static_cast<double>(n); }

    void add(const LinePiece& line) {
        constexpr std::size_t set_right = 64;
        const double slope = (line.at_to - line.at_from) / (line.to - line.from);
        const double half = (line.to - line.from) / 2;
        const Complex turn0 = std::polar(1.0, line.from), turn1 = std::polar(1.0, line.to);
        Complex e0, e1;
        for (std::size_t n = 0; n < moments_.size(); ++n) {
            const double t = time(n);
            if (n % set_right == 0) {
                e0 = std::polar(1.0, line.from * t);
                e1 = std::polar(1.0, line.to * t);
            }
            if (std::abs(half * t) < few_turns) {
                moments_[n] += moment(line, t);
            } else {
                const Complex ends = line.at_to * e1 - line.at_from * e0;
                moments_[n] += Complex(ends.imag(), -ends.real()) / t + slope * (e1 - e0) / (t * t);
            }
            e0 = times(e0, turn0);
            e1 = times(e1, turn1);
        }
    }

    // Without the standard's care for infinities, which costs more than the product.
    static Complex times(const Complex& a, const Complex& b) {
        return {a.real() * b.real() - a.imag() * b.imag(),
                a.real() * b.imag() + a.imag() * b.real()};
    }

    std::span<const LinePiece> lines_;
    double first_;
    std::vector<Complex> moments_;
};

} // namespace

std::vector<Complex> line_moments(std::span<const LinePiece> lines, double first,
                                  std::size_t count) {
    return Sum(lines, first, count).worked_out();
}

} // namespace syntonon
