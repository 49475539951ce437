// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/polished_zeros.h"

#include "core/math/precise_polynomial.h"
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using mpfr::mpreal;

// p(z) / p'(z), by Horner's rule on both.
class NewtonStep {
public:
    Precise at(const Tail& p, const Precise& z) {
        value_ = {1, 0};
        slope_ = {0, 0};
        for (const mpreal& c : p) {
            multiply(slope_, z);
            slope_.re += value_.re;
            slope_.im += value_.im;
            multiply(value_, z);
            value_.re += c;
        }
        const mpreal square = slope_.re * slope_.re + slope_.im * slope_.im;
        return {(value_.re * slope_.re + value_.im * slope_.im) / square,
                (value_.im * slope_.re - value_.re * slope_.im) / square};
    }

private:
    void multiply(Precise& a, const Precise& z) {
        mpfr_fmms(real_.mpfr_ptr(), a.re.mpfr_srcptr(), z.re.mpfr_srcptr(), a.im.mpfr_srcptr(),
                  z.im.mpfr_srcptr(), MPFR_RNDN);
        mpfr_fmma(a.im.mpfr_ptr(), a.re.mpfr_srcptr(), z.im.mpfr_srcptr(), a.im.mpfr_srcptr(),
                  z.re.mpfr_srcptr(), MPFR_RNDN);
        mpfr_swap(real_.mpfr_ptr(), a.re.mpfr_ptr());
    }
    Precise value_, slope_;
    mpreal real_;
};

// Aberth's steps, in the digits of the numbers. An upper zero stands for its conjugate, too; what
// may be a pair or two on the axis is moved one by one.
class Polish {
public:
    Polish(const Tail& p, const std::vector<Complex>& near, bool one_by_one,
           const std::function<bool()>& is_stopped)
        : p_(p), is_stopped_(is_stopped) {
        constexpr double near_axis = 0.02, aside = 1e-7;
        for (std::size_t k = 0; k < near.size(); ++k) {
            const bool alone = one_by_one || std::abs(near[k].imag()) < near_axis;
            if (alone || near[k].imag() > 0) {
                // Each a little aside in its own way: steps from conjugates would stay conjugates.
                const Complex z = near[k] * (1.0 + std::polar(aside, double(k)));
                moving_.push_back({{z.real(), z.imag()}, !alone});
            }
        }
    }

    bool to_rest() {
        constexpr int most_rounds = 60;
        constexpr double at_rest = 1e-22; // against the zero's size
        std::vector<bool> rests(moving_.size(), false);
        for (int round = 0; round < most_rounds; ++round) {
            bool moved = false;
            for (std::size_t i = 0; i < moving_.size(); ++i) {
                if (is_stopped_()) {
                    return false;
                }
                if (!rests[i]) {
                    rests[i] = step(i) <= at_rest;
                    moved = true;
                }
            }
            if (!moved) {
                return true;
            }
        }
        return false;
    }

    // Conjugates are exact, the upper one first.
    std::vector<Complex> zeros() const {
        std::vector<Complex> pairs, singles;
        for (const Moving& zero : moving_) {
            const Complex z = to_double(zero.at);
            if (zero.is_upper) {
                pairs.insert(pairs.end(), {z, std::conj(z)});
            } else {
                singles.push_back(z);
            }
        }
        pair_conjugates(singles);
        pairs.insert(pairs.end(), singles.begin(), singles.end());
        return pairs;
    }

private:
    struct Moving {
        Precise at;
        bool is_upper;
    };

    // 1 / (a - b), to a double's digits: close ones are told apart all the same.
    static Complex one_over_difference(const Precise& a, const mpreal& b_re, const mpreal& b_im) {
        const Complex apart((a.re - b_re).toDouble(), (a.im - b_im).toDouble());
        return apart == 0.0 ? 0.0 : 1.0 / apart;
    }

    Complex pull_on(std::size_t i) const {
        const Precise& here = moving_[i].at;
        Complex pull = 0;
        for (std::size_t j = 0; j < moving_.size(); ++j) {
            const Precise& other = moving_[j].at;
            if (j != i) {
                pull += one_over_difference(here, other.re, other.im);
            }
            if (moving_[j].is_upper) {
                pull += one_over_difference(here, other.re, -other.im);
            }
        }
        return pull;
    }

    // Against the zero's size.
    double step(std::size_t i) {
        Precise& zero = moving_[i].at;
        const Precise newton = newton_.at(p_, zero);
        if (!mpfr_number_p(newton.re.mpfr_srcptr()) || !mpfr_number_p(newton.im.mpfr_srcptr())) {
            return 0; // a multiple zero, hit
        }
        // newton / (1 - newton pull): Newton's step has the digits, the factor need not.
        const Complex factor = 1.0 / (1.0 - to_double(newton) * pull_on(i));
        if (!std::isfinite(factor.real()) || !std::isfinite(factor.imag())) {
            return 0;
        }
        const mpreal re = newton.re * factor.real() - newton.im * factor.imag(),
                     im = newton.re * factor.imag() + newton.im * factor.real();
        zero.re -= re;
        zero.im -= im;
        return std::abs(Complex(re.toDouble(), im.toDouble()))
               / std::max(std::abs(to_double(zero)), 1e-300);
    }

    const Tail& p_;
    const std::function<bool()>& is_stopped_;
    std::vector<Moving> moving_;
    NewtonStep newton_;
};

} // namespace

std::vector<Complex> polished_zeros(std::span<const double> c, std::vector<Complex> near,
                                    const std::function<bool()>& is_stopped) {
    const std::size_t degree = near.size(), most_bits = 512 + 8 * degree;
    bool one_by_one = false;
    for (std::size_t bits = 128 + degree; bits < most_bits && !is_stopped(); bits *= 2) {
        const Precision precision(bits);
        const Tail tail = monic_tail(c);
        Polish polish(tail, near, one_by_one, is_stopped);
        const bool rests = polish.to_rest();
        near = polish.zeros();
        if (rests) {
            break;
        }
        one_by_one = true;
    }
    return near;
}

} // namespace syntonon
