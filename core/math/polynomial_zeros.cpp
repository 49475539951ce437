// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/polynomial_zeros.h"

#include "core/math/polished_zeros.h"
#include "core/math/precise_polynomial.h"
#include "core/math/roots_at_once.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using mpfr::mpreal;

Eigen::MatrixXd companion(std::span<const double> c) {
    const auto n = static_cast<Eigen::Index>(c.size() - 1);
    Eigen::MatrixXd m = Eigen::MatrixXd::Zero(n, n);
    for (Eigen::Index k = 0; k < n; ++k) {
        m(0, k) = -c[static_cast<std::size_t>(k) + 1] / c[0];
    }
    m.diagonal(-1).setOnes();
    return m;
}

// Powers of 2 only, so that nothing is rounded.
void balance(Eigen::MatrixXd& m) {
    constexpr int most_rounds = 100;
    constexpr double worth_it = 0.95;
    bool changed = true;
    for (int round = 0; changed && round < most_rounds; ++round) {
        changed = false;
        for (Eigen::Index i = 0; i < m.rows(); ++i) {
            const double column = m.col(i).lpNorm<1>() - std::abs(m(i, i)),
                         row = m.row(i).lpNorm<1>() - std::abs(m(i, i));
            if (column == 0 || row == 0) {
                continue;
            }
            const double factor = std::exp2(std::round(std::log2(row / column) / 2));
            if (column * factor + row / factor < worth_it * (column + row)) {
                m.col(i) *= factor;
                m.row(i) /= factor;
                changed = true;
            }
        }
    }
}

std::optional<std::vector<Complex>> eigenvalues(std::span<const double> c) {
    Eigen::MatrixXd m = companion(c);
    if (!m.allFinite()) {
        return std::nullopt;
    }
    balance(m);
    const Eigen::EigenSolver<Eigen::MatrixXd> solver(m, false);
    if (solver.info() != Eigen::Success) {
        return std::nullopt;
    }
    const auto& values = solver.eigenvalues();
    return std::vector<Complex>(values.begin(), values.end());
}

// A real zero, or the upper one of a pair (im > 0), and how often it is there.
struct Multiple {
    Precise at;
    std::size_t times = 1;

    bool is_real() const { return at.im == 0; }
    std::size_t unknowns() const { return is_real() ? 1 : 2; }
};
using Structure = std::vector<Multiple>;

// times (z - root): `tail` grows by one.
void multiply_by(Tail& tail, const mpreal& root) {
    tail.emplace_back(0);
    for (std::size_t k = tail.size(); k-- > 1;) {
        tail[k] -= root * tail[k - 1];
    }
    tail[0] -= root;
}
// times (z^2 + c1 z + c2)
void multiply_by(Tail& tail, const mpreal& c1, const mpreal& c2) {
    tail.emplace_back(0);
    tail.emplace_back(0);
    for (std::size_t k = tail.size(); k-- > 2;) {
        tail[k] += c1 * tail[k - 1] + c2 * tail[k - 2];
    }
    tail[1] += c1 * tail[0] + c2;
    tail[0] += c1;
}

Tail product_of(const Structure& structure) {
    Tail tail;
    for (const Multiple& zero : structure) {
        const mpreal c1 = -2 * zero.at.re, c2 = zero.at.re * zero.at.re + zero.at.im * zero.at.im;
        for (std::size_t i = 0; i < zero.times; ++i) {
            if (zero.is_real()) {
                multiply_by(tail, zero.at.re);
            } else {
                multiply_by(tail, c1, c2);
            }
        }
    }
    return tail;
}

// What a coefficient's error is told against.
std::vector<double> scales_of(const Tail& wanted) {
    double largest = 1;
    for (const mpreal& c : wanted) {
        largest = std::max(largest, std::abs(c.toDouble()));
    }
    std::vector<double> scales;
    for (const mpreal& c : wanted) {
        scales.push_back(c == 0 ? largest : std::abs(c.toDouble()));
    }
    return scales;
}

Eigen::VectorXd errors_of(const Structure& structure, const Tail& wanted,
                          const std::vector<double>& scales) {
    const Tail product = product_of(structure);
    Eigen::VectorXd errors(static_cast<Eigen::Index>(wanted.size()));
    for (std::size_t k = 0; k < wanted.size(); ++k) {
        errors[static_cast<Eigen::Index>(k)] =
            (product[k] - wanted[k]).toDouble() / std::max(scales[k], 1e-300);
    }
    return errors;
}

// The product divided by (z - zero): the change of its coefficients as the zero moves, but for the
// sign.
std::vector<Complex> without_one(const Tail& product, const Precise& zero) {
    std::vector<Complex> quotient{1.0};
    Precise carried{1, 0};
    for (std::size_t k = 0; k + 1 < product.size(); ++k) {
        const mpreal re = carried.re * zero.re - carried.im * zero.im + product[k];
        carried.im = carried.re * zero.im + carried.im * zero.re;
        carried.re = re;
        quotient.push_back(to_double(carried));
    }
    return quotient;
}

Eigen::MatrixXd slopes_of(const Structure& structure, const std::vector<double>& scales) {
    const Tail product = product_of(structure);
    std::size_t unknowns = 0;
    for (const Multiple& zero : structure) {
        unknowns += zero.unknowns();
    }
    Eigen::MatrixXd slopes(static_cast<Eigen::Index>(scales.size()),
                           static_cast<Eigen::Index>(unknowns));
    Eigen::Index column = 0;
    for (const Multiple& zero : structure) {
        const auto quotient = without_one(product, zero.at);
        const auto times = static_cast<double>(zero.times);
        for (std::size_t k = 0; k < scales.size(); ++k) {
            const Complex slope = -times * quotient[k] / std::max(scales[k], 1e-300);
            const auto row = static_cast<Eigen::Index>(k);
            slopes(row, column) = zero.is_real() ? slope.real() : 2 * slope.real();
            if (!zero.is_real()) {
                slopes(row, column + 1) = -2 * slope.imag();
            }
        }
        column += static_cast<Eigen::Index>(zero.unknowns());
    }
    return slopes;
}

void move_by(Structure& structure, const Eigen::VectorXd& step) {
    Eigen::Index row = 0;
    for (Multiple& zero : structure) {
        zero.at.re -= step[row++];
        if (!zero.is_real()) {
            zero.at.im -= step[row++];
        }
    }
}

// Moves the zeros to where their product comes nearest; the greatest error that is left.
double fit(Structure& structure, const Tail& wanted, const std::vector<double>& scales,
           const std::function<bool()>& is_stopped) {
    constexpr int most_steps = 12;
    double least = errors_of(structure, wanted, scales).lpNorm<Eigen::Infinity>();
    for (int i = 0; i < most_steps && !is_stopped(); ++i) {
        Structure tried = structure;
        const Eigen::VectorXd step = slopes_of(structure, scales)
                                         .colPivHouseholderQr()
                                         .solve(errors_of(structure, wanted, scales));
        if (!step.allFinite()) {
            return least;
        }
        move_by(tried, step);
        const double error = errors_of(tried, wanted, scales).lpNorm<Eigen::Infinity>();
        const bool is_better = error < least / 2;
        if (error < least) {
            least = error;
            structure = std::move(tried);
        }
        if (!is_better) {
            return least;
        }
    }
    return least;
}

// Zeros within a distance of one another, step by step; indices, ascending.
std::vector<std::size_t> crowd_around(const std::vector<Complex>& zeros, std::size_t first,
                                      double near) {
    std::vector<std::size_t> crowd{first};
    std::vector<bool> is_in(zeros.size(), false);
    is_in[first] = true;
    for (std::size_t next = 0; next < crowd.size(); ++next) {
        const Complex at = zeros[crowd[next]];
        for (std::size_t j = 0; j < zeros.size(); ++j) {
            if (!is_in[j] && std::norm(zeros[j] - at) <= near * near) {
                is_in[j] = true;
                crowd.push_back(j);
            }
        }
    }
    std::ranges::sort(crowd);
    return crowd;
}

// A crowd in its middle; on the axis where one of them is real or pairs face one another there
// within the distance.
Multiple middle_of(const Structure& zeros, const std::vector<std::size_t>& crowd, double near) {
    bool on_axis = false;
    mpreal re = 0, im = 0;
    std::size_t real_ones = 0, upper_ones = 0;
    for (const std::size_t i : crowd) {
        const Multiple& zero = zeros[i];
        on_axis = on_axis || zero.is_real() || 2 * zero.at.im.toDouble() <= near;
        (zero.is_real() ? real_ones : upper_ones) += zero.times;
        const auto count = static_cast<double>(zero.times) * (zero.is_real() ? 1 : 2);
        re += zero.at.re * count;
        im += zero.at.im * count;
    }
    const std::size_t all = real_ones + 2 * upper_ones;
    const auto weight = static_cast<double>(all);
    return on_axis ? Multiple{{re / weight, 0}, all}
                   : Multiple{{re / weight, im / weight}, upper_ones};
}

using Crowds = std::vector<std::vector<std::size_t>>; // apart from one another

Structure merged(const Structure& zeros, const Crowds& crowds, double part) {
    Structure merged;
    for (std::size_t i = 0; i < zeros.size(); ++i) {
        if (std::ranges::none_of(
                crowds, [i](const auto& crowd) { return std::ranges::binary_search(crowd, i); })) {
            merged.push_back(zeros[i]);
        }
    }
    for (const auto& crowd : crowds) {
        merged.push_back(
            middle_of(zeros, crowd, part * std::abs(to_double(zeros[crowd.front()].at))));
    }
    return merged;
}

// Half a unit in the last place of each coefficient, and a little for the sums by which those who
// write coefficients make them.
double allowed_error(std::size_t degree) {
    return std::numeric_limits<double>::epsilon() * (1 + static_cast<double>(degree) / 8);
}

// How far apart rounding may have driven the zeros that were one, seen from how many they are; a
// first sieve, the coefficients decide.
bool may_be_one(const Structure& zeros, const std::vector<std::size_t>& crowd, double near) {
    constexpr std::size_t most_times = 12;
    constexpr double most_driven = 1e-3; // relative, to the power of their number
    std::size_t times = 0;
    for (const std::size_t i : crowd) {
        const bool faces_itself = !zeros[i].is_real() && 2 * zeros[i].at.im.toDouble() <= near;
        times += zeros[i].times * (faces_itself ? 2 : 1);
    }
    const double size = std::abs(to_double(zeros[crowd.front()].at));
    return times > zeros[crowd.front()].times && times <= most_times
           && near <= size * std::pow(most_driven, 1 / static_cast<double>(times));
}

// Those that may be one, within a distance that is a part of their size, and apart from the rest.
Crowds crowds_within(double part, const Structure& zeros) {
    Crowds crowds;
    std::vector<bool> taken(zeros.size(), false);
    std::vector<Complex> at;
    std::ranges::transform(zeros, std::back_inserter(at),
                           [](const Multiple& zero) { return to_double(zero.at); });
    for (std::size_t first = 0; first < zeros.size(); ++first) {
        const double near = part * std::abs(at[first]);
        auto crowd = crowd_around(at, first, near);
        const bool is_apart =
            crowd == crowd_around(at, first, 1.5 * near)
            && std::ranges::none_of(crowd, [&](std::size_t i) { return taken[i]; });
        if (is_apart && may_be_one(zeros, crowd, near)) {
            for (const std::size_t i : crowd) {
                taken[i] = true;
            }
            crowds.push_back(std::move(crowd));
        }
    }
    return crowds;
}

// What the coefficients allow, widest first: all crowds of a width at once, since each holds the
// others up, or one of them.
bool merge_some(Structure& zeros, const Tail& wanted, const std::vector<double>& scales,
                const std::function<bool()>& is_stopped) {
    constexpr double widest = 0.3, narrowest = 1e-9;
    std::vector<Crowds> tried;
    const auto try_to_merge = [&](const Crowds& crowds, double part) {
        if (crowds.empty() || std::ranges::find(tried, crowds) != tried.end()) {
            return false;
        }
        tried.push_back(crowds);
        Structure fewer = merged(zeros, crowds, part);
        if (fit(fewer, wanted, scales, is_stopped) > allowed_error(wanted.size())) {
            return false;
        }
        zeros = std::move(fewer);
        return true;
    };
    for (double part = widest; part > narrowest && !is_stopped(); part /= 2) {
        const Crowds crowds = crowds_within(part, zeros);
        if (try_to_merge(crowds, part)) {
            return true;
        }
        for (const auto& crowd : crowds) {
            if (try_to_merge({crowd}, part)) {
                return true;
            }
        }
    }
    return false;
}

Structure structure_of(std::span<const Complex> zeros) {
    Structure structure;
    for (const Complex& zero : zeros) {
        if (zero.imag() >= 0) {
            structure.push_back({{zero.real(), zero.imag()}, 1});
        }
    }
    return structure;
}

double greatest_error(const std::vector<double>& product, std::span<const double> c) {
    double largest = 0, greatest = 0;
    for (const double v : c) {
        largest = std::max(largest, std::abs(v));
    }
    for (std::size_t k = 0; k < c.size(); ++k) {
        greatest = std::max(greatest,
                            std::abs(product[k] - c[k]) / (c[k] == 0 ? largest : std::abs(c[k])));
    }
    return greatest;
}

std::vector<Complex> rounded(const Structure& structure) {
    std::vector<Complex> zeros;
    for (const Multiple& zero : structure) {
        const Complex z = to_double(zero.at);
        for (std::size_t i = 0; i < zero.times; ++i) {
            zeros.push_back(z);
            if (z.imag() != 0) {
                zeros.push_back(std::conj(z));
            }
        }
    }
    return zeros;
}

// Each by itself, as the coefficients are rounded.
std::optional<std::vector<Complex>> single_zeros(std::span<const double> c,
                                                 const std::function<bool()>& is_stopped) {
    if (c.size() == 1) {
        return std::vector<Complex>{};
    }
    auto near = eigenvalues(c);
    if (!near) {
        return std::nullopt;
    }
    pair_conjugates(*near);
    return polished_zeros(c, std::move(*near), is_stopped);
}

std::optional<std::vector<Complex>> zeros_without_origin(std::span<const double> c,
                                                         const std::function<bool()>& is_stopped) {
    auto zeros = single_zeros(c, is_stopped);
    if (!zeros || zeros->empty()) {
        return zeros;
    }
    const Precision precision(bits_for(zeros->size()));
    const Tail wanted = monic_tail(c);
    Structure structure = structure_of(*zeros);
    const auto scales = scales_of(wanted);
    while (merge_some(structure, wanted, scales, is_stopped)) {
    }
    return is_stopped() ? std::nullopt : std::optional(rounded(structure));
}

bool has_zeros(std::span<const double> c) {
    return !c.empty() && c[0] != 0
           && std::ranges::all_of(c, [](double v) { return std::isfinite(v); });
}

std::size_t zeros_at_origin(std::span<const double> c) {
    std::size_t count = 0;
    while (c[c.size() - 1 - count] == 0) {
        ++count;
    }
    return count;
}

} // namespace

double greatest_zero(std::span<const double> c) {
    constexpr std::size_t most_merged = 32;
    constexpr double infinity = std::numeric_limits<double>::infinity();
    if (!has_zeros(c)) {
        return infinity;
    }
    const auto others = c.first(c.size() - zeros_at_origin(c));
    const auto zeros = others.size() <= most_merged + 1
                           ? zeros_without_origin(others, never_stopped)
                           : single_zeros(others, never_stopped);
    double greatest = zeros ? 0 : infinity;
    for (const Complex& zero : zeros.value_or(std::vector<Complex>())) {
        greatest = std::max(greatest, std::abs(zero));
    }
    return greatest;
}

std::vector<double> multiplied_out(double leading, std::span<const Complex> zeros) {
    const Precision precision(bits_for(zeros.size()));
    std::vector<double> c{leading};
    for (const mpreal& v : product_of(structure_of(zeros))) {
        c.push_back((v * leading).toDouble());
    }
    return c;
}

std::optional<PolynomialZeros> polynomial_zeros(std::span<const double> c,
                                                const std::function<bool()>& is_stopped) {
    if (!has_zeros(c)) {
        return std::nullopt;
    }
    const std::size_t at_origin = zeros_at_origin(c);
    auto zeros = zeros_without_origin(c.first(c.size() - at_origin), is_stopped);
    if (!zeros) {
        return std::nullopt;
    }
    zeros->resize(zeros->size() + at_origin, Complex(0, 0));
    PolynomialZeros found{std::move(*zeros), 0};
    found.round_trip = greatest_error(multiplied_out(c[0], found.zeros), c);
    return found;
}

} // namespace syntonon
