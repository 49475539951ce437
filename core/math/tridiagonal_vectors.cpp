// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/tridiagonal_vectors.h"

#include "core/math/seeded.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <utility>

namespace syntonon {
namespace {

using EigenRow = std::vector<double>;

double length_of(const EigenRow& v) {
    return std::sqrt(std::inner_product(v.begin(), v.end(), v.begin(), 0.0));
}

// T - shift, split once into a lower and an upper matrix; a pivot of 0 becomes a tiny one.
class ShiftedTridiagonal {
public:
    ShiftedTridiagonal(std::span<const double> diagonal, std::span<const double> below,
                       double shift, double tiny)
        : diagonal_(diagonal.begin(), diagonal.end()), above_(below.begin(), below.end()),
          second_(diagonal.size(), 0.0), factor_(below.begin(), below.end()),
          swapped_(diagonal.size(), false) {
        for (double& d : diagonal_) {
            d -= shift;
        }
        const std::size_t count = diagonal_.size();
        for (std::size_t i = 0; i + 1 < count; ++i) {
            if (std::abs(diagonal_[i]) < std::abs(factor_[i])) {
                swap_rows(i);
            } else {
                keep_from_0(diagonal_[i], tiny);
                factor_[i] /= diagonal_[i];
                diagonal_[i + 1] -= factor_[i] * above_[i];
            }
        }
        keep_from_0(diagonal_[count - 1], tiny);
    }

    void solve(EigenRow& v) const {
        const std::size_t count = v.size();
        for (std::size_t i = 0; i + 1 < count; ++i) {
            if (swapped_[i]) {
                std::swap(v[i], v[i + 1]);
            }
            v[i + 1] -= factor_[i] * v[i];
        }
        for (std::size_t i = count; i-- > 0;) {
            if (i + 1 < count) {
                v[i] -= above_[i] * v[i + 1];
            }
            if (i + 2 < count) {
                v[i] -= second_[i] * v[i + 2];
            }
            v[i] /= diagonal_[i];
        }
    }

private:
    // The row below leads; what it has beyond the diagonal comes along.
    void swap_rows(std::size_t i) {
        const double factor = diagonal_[i] / factor_[i];
        diagonal_[i] = factor_[i];
        factor_[i] = factor;
        swapped_[i] = true;
        const double above = above_[i];
        above_[i] = diagonal_[i + 1];
        diagonal_[i + 1] = above - factor * above_[i];
        if (i + 2 < diagonal_.size()) {
            second_[i] = above_[i + 1];
            above_[i + 1] = -factor * second_[i];
        }
    }
    static void keep_from_0(double& pivot, double tiny) {
        if (std::abs(pivot) < tiny) {
            pivot = std::copysign(tiny, pivot);
        }
    }

    EigenRow diagonal_, above_, second_, factor_;
    std::vector<bool> swapped_;
};

void make_orthogonal(EigenRow& v, const std::vector<EigenRow>& to) {
    for (const EigenRow& other : to) {
        const double share = std::inner_product(v.begin(), v.end(), other.begin(), 0.0);
        for (std::size_t i = 0; i < v.size(); ++i) {
            v[i] -= share * other[i];
        }
    }
}

} // namespace

std::vector<std::vector<double>> tridiagonal_vectors(std::span<const double> diagonal,
                                                     std::span<const double> below,
                                                     std::span<const double> eigenvalues) {
    constexpr int rounds = 4;
    double size = std::numeric_limits<double>::min();
    for (const double value : eigenvalues) {
        size = std::max(size, std::abs(value));
    }
    const double tiny = size * std::numeric_limits<double>::epsilon();
    Seeded random(1);
    std::vector<EigenRow> vectors;
    for (const double value : eigenvalues) {
        const ShiftedTridiagonal matrix(diagonal, below, value, tiny);
        EigenRow v(diagonal.size());
        std::ranges::generate(v, [&] { return random.between(-1, 1); });
        for (int round = 0; round < rounds; ++round) {
            matrix.solve(v);
            const double length = length_of(v);
            std::ranges::for_each(v, [length](double& x) { x /= length; });
            make_orthogonal(v, vectors);
            make_orthogonal(v, vectors); // once more: what rounding left
            const double left = length_of(v);
            std::ranges::for_each(v, [left](double& x) { x /= left; });
        }
        vectors.push_back(std::move(v));
    }
    return vectors;
}

} // namespace syntonon
