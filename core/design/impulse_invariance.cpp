// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/impulse_invariance.h"

#include "core/base/units.h"
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr int near_terms = 16;           // on each side are summed one by one
constexpr int most_relative_degree = 20; // beyond it the far ones are nothing
constexpr std::size_t far_powers = 24;

// B_2i / (2i)!
constexpr std::array bernoulli{1.0 / 12,          -1.0 / 720,
                               1.0 / 30240,       -1.0 / 1209600,
                               1.0 / 47900160,    -691.0 / 1307674368000.0,
                               1.0 / 74724249600, -3617.0 / 10670622842880000.0};

// Hurwitz's zeta function sum of (a + k)^-q for k >= 0, Re a large, by the formula of Euler and
// Maclaurin (T. M. Apostol, An elementary view of Euler's summation formula, 1999). For q = 1 but
// for an infinite constant.
Complex hurwitz_zeta(int q, const Complex& a) {
    const Complex over_a = 1.0 / a, first = std::pow(over_a, q);
    Complex sum = first / 2.0 + (q == 1 ? -std::log(a) : first * a / (q - 1.0));
    Complex factor = first * over_a * static_cast<double>(q); // q ... (q + 2i - 2) a^-(q + 2i - 1)
    for (std::size_t i = 0; i < bernoulli.size(); ++i) {
        sum += bernoulli[i] * factor;
        const double next = q + 2.0 * static_cast<double>(i) + 1;
        factor *= next * (next + 1) * over_a * over_a;
    }
    return sum;
}

// Sum of (u + j k)^-q over |k| >= near_terms.
Complex far_sum(int q, const Complex& u) {
    const Complex j(0, 1), start(near_terms, 0);
    return std::pow(j, -q) * hurwitz_zeta(q, start - j * u)
           + std::pow(-j, -q) * hurwitz_zeta(q, start + j * u);
}

std::vector<Complex> scaled(const std::vector<Complex>& roots, double unit) {
    std::vector<Complex> found;
    for (const Complex& root : roots) {
        found.push_back(root / unit);
    }
    return found;
}

// The numerator's zeros in the z-plane.
std::vector<Complex> sampled_zeros(const SampledResponse& response,
                                   const std::vector<Complex>& poles_in_z, double sample_rate_hz) {
    const bool jumps = response.relative_degree() == 1;
    const std::size_t degree =
        jumps ? poles_in_z.size() : poles_in_z.size() - std::min<std::size_t>(2, poles_in_z.size());
    const auto log_derivative = [&](const Complex& z) {
        const auto value = response.at(std::log(z) * sample_rate_hz);
        Complex sum = value.slope / value.h * sample_rate_hz / z - (jumps ? 0.0 : 1.0 / z);
        for (const Complex& pole : poles_in_z) {
            sum += 1.0 / (z - pole);
        }
        return sum;
    };
    auto zeros = roots_at_once(log_derivative, degree).value_or(std::vector<Complex>{});
    pair_conjugates(zeros);
    return zeros;
}

} // namespace

SampledResponse::SampledResponse(const BandRoots& roots, ClassicalBand band, double sample_rate_hz)
    : zeros_(scaled(roots.zeros, 2 * pi * sample_rate_hz)),
      poles_(scaled(roots.poles, 2 * pi * sample_rate_hz)), rate_(sample_rate_hz),
      relative_degree_(roots.zeros_at_infinity) {
    zeros_.resize(zeros_.size() + static_cast<std::size_t>(roots.zeros_at_origin));
    const double reference_rad_per_s =
        band == ClassicalBand::band_pass ? roots.middle_rad_per_s : 0;
    log_gain_ = std::log(roots.passband_level)
                - std::log(std::abs(term({0, reference_rad_per_s / (2 * pi * rate_)}).h));
    expand_at_infinity();
}

// One alias, u = s / (2 pi fs). Each factor by the size of its root, so that high orders do not
// leave the range of a double; those at the origin by the first pole's.
SampledResponse::Value SampledResponse::term(Complex u) const {
    const double unit = std::abs(poles_.front());
    Value value{std::exp(log_gain_), 0};
    Complex log_slope = 0;
    for (std::size_t i = 0; i < poles_.size(); ++i) {
        value.h *= std::abs(poles_[i]) / (u - poles_[i]);
        log_slope -= 1.0 / (u - poles_[i]);
        if (i < zeros_.size()) {
            const double size = zeros_[i] == 0.0 ? unit : std::abs(zeros_[i]);
            value.h *= (u - zeros_[i]) / size;
            log_slope += 1.0 / (u - zeros_[i]);
        }
    }
    value.slope = value.h * log_slope;
    return value;
}

void SampledResponse::expand_at_infinity() {
    if (relative_degree_ > most_relative_degree) {
        return;
    }
    const double unit = std::abs(poles_.front());
    std::vector<Complex> c(far_powers, 0.0);
    c[0] = std::exp(log_gain_);
    for (std::size_t i = 0; i < poles_.size(); ++i) {
        c[0] *= std::abs(poles_[i]);
        if (i < zeros_.size()) {
            c[0] /= zeros_[i] == 0.0 ? unit : std::abs(zeros_[i]);
        }
    }
    for (const Complex& zero : zeros_) {
        for (std::size_t m = far_powers - 1; m > 0; --m) {
            c[m] -= zero * c[m - 1];
        }
    }
    for (const Complex& pole : poles_) {
        for (std::size_t m = 1; m < far_powers; ++m) {
            c[m] += pole * c[m - 1];
        }
    }
    for (const Complex& value : c) {
        at_infinity_.push_back(value.real());
    }
}

SampledResponse::Value SampledResponse::at(Complex s) const {
    const Complex u = s / (2 * pi * rate_);
    Value sum = term(u);
    for (int k = 1; k < near_terms; ++k) {
        for (const double side : {-1.0, 1.0}) {
            const Value one = term(u + Complex(0, side * k));
            sum.h += one.h;
            sum.slope += one.slope;
        }
    }
    Complex far = at_infinity_.empty() ? 0 : far_sum(relative_degree_, u);
    for (std::size_t m = 0; m < at_infinity_.size(); ++m) {
        const int power = relative_degree_ + static_cast<int>(m);
        const Complex next = far_sum(power + 1, u);
        sum.h += at_infinity_[m] * far;
        sum.slope -= at_infinity_[m] * power * next;
        far = next;
    }
    sum.slope /= 2 * pi * rate_;
    return sum;
}

SectionDrafts impulse_invariant_drafts(const BandRoots& roots, ClassicalBand band,
                                       SectionPairing pairing, double sample_rate_hz) {
    const SampledResponse response(roots, band, sample_rate_hz);
    std::vector<Complex> poles_in_z;
    for (const Complex& pole : roots.poles) {
        poles_in_z.push_back(std::exp(pole / sample_rate_hz));
    }
    SectionDrafts found = matched_drafts({{}, roots.poles, 0, static_cast<int>(roots.poles.size())},
                                         ClassicalBand::low_pass, pairing, sample_rate_hz);
    for (SectionDraft& draft : found.drafts) {
        draft.zeros = {};
    }
    found.drafts =
        paired(std::move(found.drafts),
               analog_pairs(sampled_zeros(response, poles_in_z, sample_rate_hz)), pairing);
    for (SectionDraft& draft : found.drafts) {
        if (draft.zeros.count() == 0 && response.relative_degree() > 1) {
            draft.zeros.c = {0, 1, 0}; // one sample later
        }
    }
    const double middle = roots.middle_rad_per_s;
    const Complex value = response.at({0, middle}).h;
    found.reference = {std::polar(1.0, middle / sample_rate_hz), false, std::abs(value)};
    if (std::real(value / product_at(found.drafts, found.reference.at)) < 0) {
        found.reference.level = -found.reference.level;
    }
    return found;
}

} // namespace syntonon
