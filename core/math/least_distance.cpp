// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/least_distance.h"

#include <Eigen/Dense>
#include <cmath>

namespace syntonon {
namespace {

using RowMatrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

// Columns that are not held at 0 are passive.
class NonNegative {
public:
    NonNegative(const Eigen::MatrixXd& a, const Eigen::VectorXd& b)
        : a_(a), b_(b), x_(Eigen::VectorXd::Zero(a.cols())),
          is_passive_(static_cast<std::size_t>(a.cols()), false) {}

    const Eigen::VectorXd& solved() {
        const Eigen::Index most_steps = 3 * a_.cols() + 30;
        for (Eigen::Index step = 0; step < most_steps; ++step) {
            const Eigen::Index column = most_promising();
            if (column < 0) {
                break;
            }
            is_passive_[static_cast<std::size_t>(column)] = true;
            settle();
        }
        return x_;
    }

private:
    // Of those at 0 the one along which the error falls fastest; none where it falls along none.
    Eigen::Index most_promising() const {
        const Eigen::VectorXd fall = a_.transpose() * (b_ - a_ * x_);
        const double least = 1e-11 * (1 + b_.norm()) * a_.norm();
        Eigen::Index best = -1;
        for (Eigen::Index j = 0; j < fall.size(); ++j) {
            if (!is_passive_[static_cast<std::size_t>(j)] && fall[j] > least
                && (best < 0 || fall[j] > fall[best])) {
                best = j;
            }
        }
        return best;
    }

    // The passive ones to their unconstrained best, as far as none of them gets negative; that one
    // is held at 0 from then on.
    void settle() {
        while (true) {
            const Eigen::VectorXd best = passive_best();
            double share = 1;
            for (Eigen::Index j = 0; j < best.size(); ++j) {
                if (is_passive_[static_cast<std::size_t>(j)] && best[j] <= 0) {
                    share = std::min(share, x_[j] / (x_[j] - best[j]));
                }
            }
            if (share >= 1) {
                x_ = best;
                return;
            }
            x_ += share * (best - x_);
            constexpr double nothing = 1e-14;
            for (Eigen::Index j = 0; j < best.size(); ++j) {
                if (is_passive_[static_cast<std::size_t>(j)] && x_[j] <= nothing) {
                    is_passive_[static_cast<std::size_t>(j)] = false;
                    x_[j] = 0;
                }
            }
        }
    }

    Eigen::VectorXd passive_best() const {
        std::vector<Eigen::Index> columns;
        for (Eigen::Index j = 0; j < a_.cols(); ++j) {
            if (is_passive_[static_cast<std::size_t>(j)]) {
                columns.push_back(j);
            }
        }
        Eigen::MatrixXd part(a_.rows(), static_cast<Eigen::Index>(columns.size()));
        for (Eigen::Index k = 0; k < part.cols(); ++k) {
            part.col(k) = a_.col(columns[static_cast<std::size_t>(k)]);
        }
        const Eigen::VectorXd best = part.colPivHouseholderQr().solve(b_);
        Eigen::VectorXd all = Eigen::VectorXd::Zero(a_.cols());
        for (Eigen::Index k = 0; k < part.cols(); ++k) {
            all[columns[static_cast<std::size_t>(k)]] = best[k];
        }
        return all;
    }

    const Eigen::MatrixXd& a_;
    const Eigen::VectorXd& b_;
    Eigen::VectorXd x_;
    std::vector<bool> is_passive_;
};

} // namespace

std::vector<double> nonnegative_least_squares(std::span<const double> a, std::size_t columns,
                                              std::span<const double> b) {
    const Eigen::MatrixXd matrix = Eigen::Map<const RowMatrix>(
        a.data(), static_cast<Eigen::Index>(b.size()), static_cast<Eigen::Index>(columns));
    const Eigen::VectorXd right =
        Eigen::Map<const Eigen::VectorXd>(b.data(), static_cast<Eigen::Index>(b.size()));
    const Eigen::VectorXd x = NonNegative(matrix, right).solved();
    return {x.begin(), x.end()};
}

std::optional<std::vector<double>> least_distance(std::span<const double> g, std::size_t columns,
                                                  std::span<const double> h) {
    // NNLS of [G' h']' u ~ (0 ... 0 1): the residual is the solution but for its scale.
    const auto n = static_cast<Eigen::Index>(columns), m = static_cast<Eigen::Index>(h.size());
    Eigen::MatrixXd dual(n + 1, m);
    dual.topRows(n) = Eigen::Map<const RowMatrix>(g.data(), m, n).transpose();
    dual.row(n) = Eigen::Map<const Eigen::RowVectorXd>(h.data(), m);
    const Eigen::VectorXd right = Eigen::VectorXd::Unit(n + 1, n);
    const Eigen::VectorXd residual = dual * NonNegative(dual, right).solved() - right;
    constexpr double nothing = 1e-9;
    if (!(residual.norm() > nothing)) {
        return std::nullopt;
    }
    const Eigen::VectorXd x = residual.head(n) / -residual[n];
    return std::vector<double>(x.begin(), x.end());
}

} // namespace syntonon
