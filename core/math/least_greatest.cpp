// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/least_greatest.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

using Matrix = Eigen::MatrixXd;
using Vector = Eigen::VectorXd;
using Index = Eigen::Index;

// Unknowns by columns that are independent, each as great as 1.
struct Scaled {
    Matrix rows;
    Vector values, scale;
    std::vector<Index> columns; // of the unknowns that they are
};

Scaled independent(const Equations& equations) {
    const auto count = static_cast<Index>(equations.values.size());
    using RowMajor = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
    const Matrix all = Eigen::Map<const RowMajor>(equations.rows.data(), count,
                                                  static_cast<Index>(equations.unknowns));
    Scaled scaled;
    scaled.values = Eigen::Map<const Vector>(equations.values.data(), count);
    Matrix even = all;
    Vector greatest = Vector::Ones(all.cols());
    for (Index j = 0; j < all.cols(); ++j) {
        const double most = all.col(j).lpNorm<Eigen::Infinity>();
        greatest[j] = most > 0 ? most : 1;
        even.col(j) /= greatest[j];
    }
    const Eigen::ColPivHouseholderQR<Matrix> parts(even);
    for (Index k = 0; k < parts.rank(); ++k) {
        scaled.columns.push_back(parts.colsPermutation().indices()[k]);
    }
    scaled.rows.resize(count, parts.rank());
    scaled.scale.resize(parts.rank());
    for (Index k = 0; k < parts.rank(); ++k) {
        scaled.rows.col(k) = even.col(scaled.columns[static_cast<std::size_t>(k)]);
        scaled.scale[k] = greatest[scaled.columns[static_cast<std::size_t>(k)]];
    }
    return scaled;
}

class Exchange {
public:
    explicit Exchange(const Scaled& all) : all_(all), unknowns_(all.rows.cols()) {
        const Eigen::ColPivHouseholderQR<Matrix> parts(all.rows.transpose());
        for (Index k = 0; k <= unknowns_; ++k) {
            held_.push_back(parts.colsPermutation().indices()[k]);
        }
    }

    // Until no error is greater than the levelled ones.
    LeastGreatest run() {
        constexpr int turns = 40; // a textbook's two or three for each unknown are usual
        const int most = turns * static_cast<int>(unknowns_ + 2);
        LeastGreatest best;
        best.greatest = std::numeric_limits<double>::max();
        Vector solved;
        for (; best.exchanges < most; ++best.exchanges) {
            level();
            const Vector errors = all_.rows * now_ - all_.values;
            Index worst = 0;
            const double greatest = errors.cwiseAbs().maxCoeff(&worst);
            best.bound = std::max(best.bound, level_);
            if (greatest < best.greatest) {
                best.greatest = greatest;
                solved = now_;
            }
            constexpr double met = 1e-10, rounding = 1e-15;
            if (greatest <= level_ * (1 + met) + rounding * all_.values.lpNorm<Eigen::Infinity>()
                || std::ranges::find(held_, worst) != held_.end()) {
                break;
            }
            take(worst, errors[worst]);
        }
        best.unknowns.assign(solved.begin(), solved.end());
        return best;
    }

private:
    Matrix held_rows() const {
        Matrix rows(unknowns_ + 1, unknowns_);
        for (Index k = 0; k <= unknowns_; ++k) {
            rows.row(k) = all_.rows.row(held_[static_cast<std::size_t>(k)]);
        }
        return rows;
    }

    // The unknowns that leave errors of one size in the equations held, with the signs of the
    // combination that they cannot meet.
    void level() {
        const Matrix rows = held_rows();
        const Eigen::HouseholderQR<Matrix> parts(rows);
        const Matrix q = parts.householderQ();
        shares_ = q.col(unknowns_);
        Vector values(unknowns_ + 1);
        for (Index k = 0; k <= unknowns_; ++k) {
            values[k] = all_.values[held_[static_cast<std::size_t>(k)]];
        }
        double off = -shares_.dot(values);
        if (off < 0) {
            shares_ = -shares_;
            off = -off;
        }
        level_ = off / shares_.lpNorm<1>();
        for (Index k = 0; k <= unknowns_; ++k) {
            values[k] += shares_[k] < 0 ? -level_ : level_;
        }
        now_ = parts.solve(values);
        parts_ = rows;
    }

    // The one goes whose share reaches 0 first as that of the new one grows.
    void take(Index fresh, double error) {
        const Vector row = all_.rows.row(fresh).transpose();
        const Vector made_of = parts_.transpose().completeOrthogonalDecomposition().solve(row);
        Index goes = 0;
        double most = -std::numeric_limits<double>::max();
        for (Index k = 0; k <= unknowns_; ++k) {
            constexpr double nothing = 1e-300;
            const double share =
                std::abs(shares_[k]) < nothing ? std::copysign(nothing, shares_[k]) : shares_[k];
            const double turn = (error < 0 ? -made_of[k] : made_of[k]) / share;
            if (turn > most) {
                most = turn;
                goes = k;
            }
        }
        held_[static_cast<std::size_t>(goes)] = fresh;
    }

    const Scaled& all_;
    Index unknowns_;
    std::vector<Index> held_; // one more than there are unknowns
    Vector shares_, now_;
    Matrix parts_;
    double level_ = 0;
};

} // namespace

LeastGreatest least_greatest_error(const Equations& equations) {
    LeastGreatest found;
    if (!equations.values.empty() && equations.unknowns > 0) {
        const Scaled scaled = independent(equations);
        if (scaled.rows.cols() == scaled.rows.rows()) { // all can be met
            const Vector all = scaled.rows.partialPivLu().solve(scaled.values);
            found.unknowns.assign(all.begin(), all.end());
        } else if (scaled.rows.cols() > 0) {
            found = Exchange(scaled).run();
        }
        std::vector<double> named(equations.unknowns, 0.0);
        for (std::size_t k = 0; k < found.unknowns.size(); ++k) {
            named[static_cast<std::size_t>(scaled.columns[k])] =
                found.unknowns[k] / scaled.scale[static_cast<Index>(k)];
        }
        found.unknowns = std::move(named);
    } else {
        found.unknowns.assign(equations.unknowns, 0.0);
    }
    found.greatest = 0;
    for (std::size_t i = 0; i < equations.values.size(); ++i) {
        double error = -equations.values[i];
        for (std::size_t j = 0; j < equations.unknowns; ++j) {
            error += equations.rows[i * equations.unknowns + j] * found.unknowns[j];
        }
        found.greatest = std::max(found.greatest, std::abs(error));
    }
    return found;
}

} // namespace syntonon
