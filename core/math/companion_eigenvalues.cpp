// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/companion_eigenvalues.h"

#include <Eigen/Dense>
#include <cmath>

namespace syntonon {
namespace {

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

} // namespace

std::optional<std::vector<std::complex<double>>> companion_eigenvalues(std::span<const double> c) {
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
    return std::vector<std::complex<double>>(values.begin(), values.end());
}

} // namespace syntonon
