// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/multiple_zeros.h"

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

Eigen::VectorXd errors_of(const Multiplicities& structure, const Tail& wanted,
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

Eigen::MatrixXd slopes_of(const Multiplicities& structure, const std::vector<double>& scales) {
    const Tail product = product_of(structure);
    std::size_t unknowns = 0;
    for (const MultipleZero& zero : structure) {
        unknowns += zero.unknowns();
    }
    Eigen::MatrixXd slopes(static_cast<Eigen::Index>(scales.size()),
                           static_cast<Eigen::Index>(unknowns));
    Eigen::Index column = 0;
    for (const MultipleZero& zero : structure) {
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

void move_by(Multiplicities& structure, const Eigen::VectorXd& step) {
    Eigen::Index row = 0;
    for (MultipleZero& zero : structure) {
        zero.at.re -= step[row++];
        if (!zero.is_real()) {
            zero.at.im -= step[row++];
        }
    }
}

// Moves the zeros to where their product comes nearest; the greatest error that is left.
double fit(Multiplicities& structure, const Tail& wanted, const std::vector<double>& scales,
           const std::function<bool()>& is_stopped) {
    constexpr int most_steps = 12;
    double least = errors_of(structure, wanted, scales).lpNorm<Eigen::Infinity>();
    for (int i = 0; i < most_steps && !is_stopped(); ++i) {
        Multiplicities tried = structure;
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
MultipleZero middle_of(const Multiplicities& zeros, const std::vector<std::size_t>& crowd,
                       double near) {
    bool on_axis = false;
    mpreal re = 0, im = 0;
    std::size_t real_ones = 0, upper_ones = 0;
    for (const std::size_t i : crowd) {
        const MultipleZero& zero = zeros[i];
        on_axis = on_axis || zero.is_real() || 2 * zero.at.im.toDouble() <= near;
        (zero.is_real() ? real_ones : upper_ones) += zero.times;
        const auto count = static_cast<double>(zero.times) * (zero.is_real() ? 1 : 2);
        re += zero.at.re * count;
        im += zero.at.im * count;
    }
    const std::size_t all = real_ones + 2 * upper_ones;
    const auto weight = static_cast<double>(all);
    return on_axis ? MultipleZero{{re / weight, 0}, all}
                   : MultipleZero{{re / weight, im / weight}, upper_ones};
}

using Crowds = std::vector<std::vector<std::size_t>>; // apart from one another

Multiplicities merged(const Multiplicities& zeros, const Crowds& crowds, double part) {
    Multiplicities merged;
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
bool may_be_one(const Multiplicities& zeros, const std::vector<std::size_t>& crowd, double near) {
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
Crowds crowds_within(double part, const Multiplicities& zeros) {
    Crowds crowds;
    std::vector<bool> taken(zeros.size(), false);
    std::vector<Complex> at;
    std::ranges::transform(zeros, std::back_inserter(at),
                           [](const MultipleZero& zero) { return to_double(zero.at); });
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
bool merge_some(Multiplicities& zeros, const Tail& wanted, const std::vector<double>& scales,
                const std::function<bool()>& is_stopped) {
    constexpr double widest = 0.3, narrowest = 1e-9;
    std::vector<Crowds> tried;
    const auto try_to_merge = [&](const Crowds& crowds, double part) {
        if (crowds.empty() || std::ranges::find(tried, crowds) != tried.end()) {
            return false;
        }
        tried.push_back(crowds);
        Multiplicities fewer = merged(zeros, crowds, part);
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

} // namespace

Multiplicities each_once(std::span<const Complex> zeros) {
    Multiplicities structure;
    for (const Complex& zero : zeros) {
        if (zero.imag() >= 0) {
            structure.push_back({{zero.real(), zero.imag()}, 1});
        }
    }
    return structure;
}

std::vector<Complex> written_out(const Multiplicities& structure) {
    std::vector<Complex> zeros;
    for (const MultipleZero& zero : structure) {
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

Tail product_of(const Multiplicities& structure) {
    Tail tail;
    for (const MultipleZero& zero : structure) {
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

void merge_multiples(Multiplicities& zeros, const Tail& wanted,
                     const std::function<bool()>& is_stopped) {
    const auto scales = scales_of(wanted);
    while (merge_some(zeros, wanted, scales, is_stopped)) {
    }
}

} // namespace syntonon
