// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/impulse_models.h"

#include "core/base/units.h"
#include "core/math/polynomial_zeros.h"
#include "core/math/tridiagonal_vectors.h"

#include <Eigen/Dense>
#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>
#include <complex>
#include <fmt/format.h>
#include <functional>
#include <limits>
#include <numeric>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Eigen::Index;

double at(std::span<const double> values, std::ptrdiff_t n) {
    return n >= 0 && n < std::ssize(values) ? values[static_cast<std::size_t>(n)] : 0;
}

// What 1 / A(z) makes of a signal.
std::vector<double> through_poles(std::span<const double> in, const std::vector<double>& a) {
    std::vector<double> out(in.begin(), in.end());
    for (std::size_t n = 0; n < out.size(); ++n) {
        for (std::size_t k = 1; k < a.size() && k <= n; ++k) {
            out[n] -= a[k] * out[n - k];
        }
    }
    return out;
}

// Without those at the origin, which change nothing; nothing where they cannot be found.
std::optional<std::vector<Complex>> zeros_of(std::span<const double> by_delay) {
    auto found = polynomial_zeros(by_delay);
    if (!found) {
        return std::nullopt;
    }
    std::erase(found->zeros, Complex(0));
    return std::move(found->zeros);
}

std::vector<double> with_poles_inside(const std::vector<double>& a) {
    auto poles = zeros_of(a);
    if (!poles) {
        return a;
    }
    bool is_outside = false;
    for (Complex& pole : *poles) {
        if (std::abs(pole) >= 1) {
            pole = 1.0 / std::conj(pole);
            is_outside = true;
        }
    }
    if (!is_outside) {
        return a;
    }
    std::vector<double> inside = multiplied_out(1, *poles);
    inside.resize(a.size(), 0.0); // roots at the origin
    return inside;
}

double squared_error(std::span<const double> impulse, const RationalModel& model) {
    const std::vector<double> is = impulse_of(model, impulse.size());
    double sum = 0;
    for (std::size_t n = 0; n < is.size(); ++n) {
        sum += (is[n] - impulse[n]) * (is[n] - impulse[n]);
    }
    return std::isfinite(sum) ? sum : std::numeric_limits<double>::infinity();
}

// With these poles: the zeros for which the impulse response is nearest.
RationalModel with_best_zeros(std::span<const double> impulse, std::vector<double> a, int zeros) {
    std::vector<double> one(impulse.size(), 0.0);
    one[0] = 1;
    const std::vector<double> rings = through_poles(one, a);
    Eigen::MatrixXd matrix(std::ssize(impulse), zeros + 1);
    for (Index n = 0; n < matrix.rows(); ++n) {
        for (Index k = 0; k <= zeros; ++k) {
            matrix(n, k) = at(rings, n - k);
        }
    }
    const Eigen::VectorXd right =
        Eigen::Map<const Eigen::VectorXd>(impulse.data(), std::ssize(impulse));
    const Eigen::VectorXd b = matrix.householderQr().solve(right);
    return {{b.begin(), b.end()}, std::move(a)};
}

// One round: both polynomials, errors weighted with the poles so far.
RationalModel next_round(std::span<const double> impulse, const RationalModel& last, int zeros,
                         int poles) {
    std::vector<double> one(impulse.size(), 0.0);
    one[0] = 1;
    const auto in = through_poles(one, last.a), out = through_poles(impulse, last.a);
    Eigen::MatrixXd matrix(std::ssize(impulse), poles + zeros + 1);
    Eigen::VectorXd right(matrix.rows());
    for (Index n = 0; n < matrix.rows(); ++n) {
        right(n) = out[static_cast<std::size_t>(n)];
        for (Index k = 1; k <= poles; ++k) {
            matrix(n, k - 1) = -at(out, n - k);
        }
        for (Index k = 0; k <= zeros; ++k) {
            matrix(n, poles + k) = at(in, n - k);
        }
    }
    const Eigen::VectorXd found = matrix.householderQr().solve(right);
    RationalModel next;
    next.a = {1};
    next.a.insert(next.a.end(), found.begin(), found.begin() + poles);
    next.b.assign(found.begin() + poles, found.end());
    return next;
}

} // namespace

RationalModel prony(std::span<const double> impulse, int zeros, int poles) {
    const Index first = zeros + 1, rows = std::ssize(impulse) - first;
    Eigen::MatrixXd matrix(rows, poles);
    Eigen::VectorXd right(rows);
    for (Index row = 0; row < rows; ++row) {
        right(row) = -at(impulse, first + row);
        for (Index k = 1; k <= poles; ++k) {
            matrix(row, k - 1) = at(impulse, first + row - k);
        }
    }
    RationalModel model;
    model.a = {1};
    if (poles > 0) {
        const Eigen::VectorXd a = matrix.colPivHouseholderQr().solve(right);
        model.a.insert(model.a.end(), a.begin(), a.end());
    }
    for (Index n = 0; n <= zeros; ++n) {
        double sum = 0;
        for (std::size_t k = 0; k < model.a.size(); ++k) {
            sum += model.a[k] * at(impulse, n - static_cast<Index>(k));
        }
        model.b.push_back(sum);
    }
    return model;
}

RationalModel steiglitz_mcbride(std::span<const double> impulse, int zeros, int poles,
                                const Watch& watch) {
    constexpr int rounds = 12;
    RationalModel now = prony(impulse, zeros, poles);
    now.a = with_poles_inside(now.a);
    now = with_best_zeros(impulse, now.a, zeros);
    RationalModel best = now;
    double least = squared_error(impulse, best);
    for (int i = 0; i < rounds && !watch.is_stopped(); ++i) {
        now = next_round(impulse, now, zeros, poles);
        now.a = with_poles_inside(now.a);
        RationalModel tried = with_best_zeros(impulse, now.a, zeros);
        if (const double error = squared_error(impulse, tried); error < least) {
            least = error;
            best = std::move(tried);
        }
        watch.report(static_cast<double>(i + 1) / rounds);
    }
    return best;
}

RationalModel with_poles_inside(std::span<const double> impulse, RationalModel model) {
    std::vector<double> inside = with_poles_inside(model.a);
    if (inside == model.a) {
        return model;
    }
    return with_best_zeros(impulse, std::move(inside), static_cast<int>(model.b.size()) - 1);
}

std::vector<double> impulse_of(const RationalModel& model, std::size_t count) {
    std::vector<double> in(count, 0.0);
    std::copy_n(model.b.begin(), std::min(count, model.b.size()), in.begin());
    return through_poles(in, model.a);
}

std::optional<Roots> roots_of(const RationalModel& model) {
    const auto lead = std::ranges::find_if(model.b, [](double b) { return b != 0; });
    if (lead == model.b.end()) {
        return std::nullopt;
    }
    auto zeros = zeros_of({lead, model.b.end()}), poles = zeros_of(model.a);
    if (!zeros || !poles) {
        return std::nullopt;
    }
    Roots roots;
    roots.zeros = *std::move(zeros);
    roots.poles = *std::move(poles);
    roots.gain = *lead;
    roots.delay_samples = static_cast<double>(lead - model.b.begin());
    return roots;
}

namespace {

Expected<void> check_taps(std::span<const double> taps, int order) {
    if (taps.size() > longest_balanced) {
        return refuse("length", fmt::format("{} taps are too many to be balanced", taps.size()),
                      fmt::format("give at most {}, or fit by another method", longest_balanced));
    }
    if (std::ranges::all_of(taps, [](double tap) { return tap == 0; })) {
        return refuse("length", "all taps are 0", "give some that are not");
    }
    if (order < 1 || order >= std::ssize(taps)) {
        return refuse("order",
                      fmt::format("{} is not below the number of taps, {}", order, taps.size()),
                      "lower it");
    }
    return {};
}

std::vector<Complex> sorted_pairs(const Eigen::VectorXcd& values) {
    std::vector<Complex> roots;
    for (const Complex& value : values) {
        if (value.imag() > 0) {
            roots.push_back(value);
            roots.push_back(std::conj(value));
        } else if (value.imag() == 0 && value.real() != 0) {
            roots.push_back(value);
        }
    }
    return roots;
}

} // namespace

// The Hankel matrix of the taps behind the first one is symmetric: P = 1 and Q = its square are the
// Gramians of the delay line, so its eigenvectors balance it. Of the greatest eigenvalues alone the
// vectors are looked for.
Expected<BalancedStates> balanced_states(std::span<const double> taps, int most) {
    const auto lead = std::ranges::find_if(taps, [](double tap) { return tap != 0; });
    const auto behind = taps.subspan(static_cast<std::size_t>(lead - taps.begin()));
    if (auto ok = check_taps(behind, most); !ok) {
        return tl::unexpected(ok.error());
    }
    const Index size = std::ssize(behind) - 1;
    Eigen::MatrixXd hankel(size, size);
    for (Index i = 0; i < size; ++i) {
        for (Index j = 0; j < size; ++j) {
            hankel(i, j) = at(behind, i + j + 1);
        }
    }
    BalancedStates states;
    states.first_tap = behind.front();
    states.delay = static_cast<std::size_t>(lead - taps.begin());
    if (size == 1) { // nothing to be turned
        states.values = {hankel(0, 0)};
        states.vectors = {{1}};
        return states;
    }
    const Eigen::Tridiagonalization<Eigen::MatrixXd> turned(hankel);
    const Eigen::VectorXd diagonal = turned.diagonal(), below = turned.subDiagonal();
    Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solver;
    solver.computeFromTridiagonal(diagonal, below, Eigen::EigenvaluesOnly);
    states.values.assign(solver.eigenvalues().begin(), solver.eigenvalues().end());
    std::ranges::stable_sort(states.values, std::greater(),
                             [](double value) { return std::abs(value); });
    const auto kept = static_cast<std::size_t>(std::min<Index>(most, size));
    const auto flat = tridiagonal_vectors({diagonal.data(), static_cast<std::size_t>(size)},
                                          {below.data(), static_cast<std::size_t>(size) - 1},
                                          std::span(states.values).first(kept));
    for (const std::vector<double>& vector : flat) {
        const Eigen::VectorXd back =
            turned.matrixQ() * Eigen::Map<const Eigen::VectorXd>(vector.data(), size);
        states.vectors.emplace_back(back.begin(), back.end());
    }
    return states;
}

BalancedModel cut_down(const BalancedStates& states, int order) {
    const Index size = std::ssize(states.values),
                kept = std::min<Index>(order, std::ssize(states.vectors));
    Eigen::MatrixXd vectors(size, kept);
    Eigen::VectorXd values(kept);
    for (Index k = 0; k < kept; ++k) {
        const auto& vector = states.vectors[static_cast<std::size_t>(k)];
        vectors.col(k) = Eigen::Map<const Eigen::VectorXd>(vector.data(), size);
        values(k) = states.values[static_cast<std::size_t>(k)];
    }
    const Eigen::VectorXd root = values.cwiseAbs().cwiseSqrt();
    // The delay line moves each state one place on.
    Eigen::MatrixXd moved = Eigen::MatrixXd::Zero(size, kept);
    moved.bottomRows(size - 1) = vectors.topRows(size - 1);
    const Eigen::MatrixXd a =
        root.asDiagonal() * (vectors.transpose() * moved) * root.cwiseInverse().asDiagonal();
    const Eigen::VectorXd b = root.asDiagonal() * vectors.row(0).transpose();
    const Eigen::RowVectorXd c =
        vectors.row(0) * values.asDiagonal() * root.cwiseInverse().asDiagonal();
    const double d = states.first_tap;
    BalancedModel model;
    model.roots.poles = sorted_pairs(a.eigenvalues());
    model.roots.zeros = sorted_pairs((a - b * c / d).eigenvalues());
    model.roots.gain = d;
    model.roots.delay_samples = static_cast<double>(states.delay);
    for (Index k = 0; k < size; ++k) {
        model.singular_values.push_back(std::abs(states.values[static_cast<std::size_t>(k)]));
        model.bound += k >= kept ? 2 * model.singular_values.back() : 0;
    }
    return model;
}

Expected<BalancedModel> balanced_truncation(std::span<const double> taps, int order) {
    return balanced_states(taps, order).map([order](const BalancedStates& states) {
        return cut_down(states, order);
    });
}

} // namespace syntonon
