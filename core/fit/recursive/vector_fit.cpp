// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/vector_fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr int rounds = 12;

// Poles as real ones and the upper ones of conjugate pairs, each a column or two.
using Poles = std::vector<Complex>;

std::size_t width_of(Complex pole) {
    return pole.imag() == 0 ? 1 : 2;
}

std::size_t width_of(const Poles& poles) {
    std::size_t width = 0;
    for (const Complex pole : poles) {
        width += width_of(pole);
    }
    return width;
}

// Even over log frequency, lightly damped.
Poles first_poles(const ResponseAim& aim, double sample_rate_hz, int order) {
    constexpr double damping = 0.02;
    const double low = log_image(aim.hz.front(), sample_rate_hz);
    const double high = log_image(aim.hz.back(), sample_rate_hz);
    const int pairs = order / 2;
    Poles poles;
    for (int k = 0; k < pairs; ++k) {
        const double share = pairs > 1 ? static_cast<double>(k) / (pairs - 1) : 0.5;
        const double a = std::exp(low + share * (high - low));
        poles.emplace_back(-damping * a, a);
    }
    if (order % 2 == 1) {
        poles.emplace_back(-std::exp((low + high) / 2), 0);
    }
    return poles;
}

// The partial fractions at one place, of pairs such that real residues are enough.
void fractions_at(Complex s, const Poles& poles, std::vector<Complex>& out) {
    std::size_t k = 0;
    for (const Complex pole : poles) {
        const Complex above = 1.0 / (s - pole);
        if (pole.imag() == 0) {
            out[k++] = above;
            continue;
        }
        const Complex below = 1.0 / (s - std::conj(pole));
        out[k++] = above + below;
        out[k++] = Complex(0, 1) * (above - below);
    }
}

// The zeros of d + sum of fractions: eigenvalues of A - b c / d (Gustavsen and Semlyen, appendix
// B).
std::vector<Complex> zeros_of(const Poles& poles, const Eigen::VectorXd& residues, double d) {
    const auto size = static_cast<Eigen::Index>(width_of(poles));
    Eigen::MatrixXd matrix = Eigen::MatrixXd::Zero(size, size);
    Eigen::VectorXd b(size);
    Eigen::Index k = 0;
    for (const Complex pole : poles) {
        matrix(k, k) = pole.real();
        b(k) = 1;
        if (pole.imag() != 0) {
            matrix(k + 1, k + 1) = pole.real();
            matrix(k, k + 1) = pole.imag();
            matrix(k + 1, k) = -pole.imag();
            b(k) = 2;
            b(k + 1) = 0;
            ++k;
        }
        ++k;
    }
    matrix -= b * residues.transpose() / d;
    const Eigen::VectorXcd values = matrix.eigenvalues();
    return {values.begin(), values.end()};
}

class VectorFit {
public:
    VectorFit(const ResponseAim& aim, double sample_rate_hz, int order)
        : poles_(first_poles(aim, sample_rate_hz, order)) {
        for (std::size_t i = 0; i < aim.size(); ++i) {
            if (aim.weight[i] > 0) {
                s_.emplace_back(0, std::tan(pi * aim.hz[i] / sample_rate_hz));
                const double level = std::pow(10, aim.level_db[i] / 20);
                response_.push_back(std::polar(level, aim.phase_rad[i]));
                weight_.push_back(std::sqrt(aim.weight[i]) / level);
            }
        }
    }

    void move_poles() {
        const auto size = static_cast<Eigen::Index>(width_of(poles_));
        const Eigen::VectorXd all = solved(true);
        double d = all(2 * size + 1);
        constexpr double least = 1e-8;
        d = std::abs(d) < least ? std::copysign(least, d) : d;
        poles_.clear();
        for (Complex zero : zeros_of(old_, all.segment(size + 1, size), d)) {
            if (zero.imag() >= 0) {
                poles_.emplace_back(-std::abs(zero.real()), zero.imag());
            }
        }
    }

    RootFactors found() {
        const Eigen::VectorXd all = solved(false);
        const auto size = static_cast<Eigen::Index>(width_of(poles_));
        constexpr double least = 1e-12; // of the gain at half the rate
        const double d = std::abs(all(size)) < least ? std::copysign(least, all(size)) : all(size);
        RootFactors factors;
        factors.gain_db = db_from_ratio(std::abs(d));
        factors.is_inverted = d < 0;
        add_images(true, with_conjugates(poles_), factors);
        add_images(false, zeros_of(poles_, all.head(size), d), factors);
        return factors;
    }

private:
    static std::vector<Complex> with_conjugates(const Poles& poles) {
        std::vector<Complex> all;
        for (const Complex pole : poles) {
            all.push_back(pole);
            if (pole.imag() != 0) {
                all.push_back(std::conj(pole));
            }
        }
        return all;
    }

    // Residues and constant of the response; when moving also those of the filter it is multiplied
    // with, which on the whole shall not vanish.
    Eigen::VectorXd solved(bool moving) {
        old_ = poles_;
        const std::size_t width = width_of(poles_), places = s_.size();
        const std::size_t columns = moving ? 2 * width + 2 : width + 1;
        Eigen::MatrixXd matrix =
            Eigen::MatrixXd::Zero(static_cast<Eigen::Index>(2 * places + (moving ? 1 : 0)),
                                  static_cast<Eigen::Index>(columns));
        Eigen::VectorXd right = Eigen::VectorXd::Zero(matrix.rows());
        std::vector<Complex> fractions(width + 1, 1.0);
        Eigen::RowVectorXd sum = Eigen::RowVectorXd::Zero(static_cast<Eigen::Index>(columns));
        for (std::size_t i = 0; i < places; ++i) {
            fractions_at(s_[i], poles_, fractions);
            const auto row = static_cast<Eigen::Index>(2 * i);
            const auto put = [&](std::size_t column, Complex value) {
                matrix(row, static_cast<Eigen::Index>(column)) = value.real();
                matrix(row + 1, static_cast<Eigen::Index>(column)) = value.imag();
            };
            for (std::size_t k = 0; k <= width; ++k) {
                put(k, weight_[i] * fractions[k]);
                if (moving) {
                    put(width + 1 + k, -weight_[i] * response_[i] * fractions[k]);
                    sum(static_cast<Eigen::Index>(width + 1 + k)) += fractions[k].real();
                }
            }
            right(row) = moving ? 0 : weight_[i] * response_[i].real();
            right(row + 1) = moving ? 0 : weight_[i] * response_[i].imag();
        }
        if (moving) { // the mean real part is 1
            const double share = 1 / std::sqrt(static_cast<double>(places));
            matrix.bottomRows(1) = sum * share;
            right(right.size() - 1) = static_cast<double>(places) * share;
        }
        const Eigen::VectorXd scale = matrix.colwise().norm().cwiseMax(1e-300);
        matrix *= scale.cwiseInverse().asDiagonal();
        return matrix.householderQr().solve(right).cwiseQuotient(scale);
    }

    std::vector<Complex> s_, response_;
    std::vector<double> weight_;
    Poles poles_, old_;
};

} // namespace

RootFactors vector_fit(const ResponseAim& aim, double sample_rate_hz, int order,
                       const Watch& watch) {
    VectorFit fit(aim, sample_rate_hz, order);
    for (int i = 0; i < rounds && !watch.is_stopped(); ++i) {
        fit.move_poles();
    }
    return fit.found();
}

} // namespace syntonon
