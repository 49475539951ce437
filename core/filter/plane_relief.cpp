// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/plane_relief.h"

#include "core/base/units.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <optional>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Row = std::vector<float>;

constexpr float most_db = 600;
constexpr int at_once = 12; // factors that a float holds, each within 1e-3 and 30
constexpr float log2_of_10 = 3.32192809F;

// Of powers of z that the factors 1 - root/z leave: z^(poles - zeros - delay).
int power_of_z(const Roots& roots) {
    return roots.domain == Domain::analog
               ? 0
               : static_cast<int>(roots.poles.size()) - static_cast<int>(roots.zeros.size())
                     - static_cast<int>(roots.delay_samples);
}

// A row of points, in units of the grid's width so that floats hold products of distances.
struct PointRow {
    PointRow(const PlaneGrid& grid, double height)
        : unit(grid.step * static_cast<double>(std::max<std::size_t>(grid.columns, 2))), y(height),
          x(grid.columns) {
        for (std::size_t i = 0; i < x.size(); ++i) {
            x[i] = static_cast<float>((grid.left + grid.step * static_cast<double>(i)) / unit);
        }
    }
    float across(const Complex& root) const { return static_cast<float>(root.real() / unit); }
    float up(const Complex& root) const { return static_cast<float>((y - root.imag()) / unit); }

    double unit, y;
    Row x;
};

// log2 to about 1e-4: the exponent's bits and a polynomial in the mantissa (minimax over [1, 2)),
// in a form that the compiler does four at a time.
inline float quick_log2(float v) {
    const auto bits = std::bit_cast<std::uint32_t>(v);
    const auto exponent = static_cast<float>(static_cast<std::int32_t>(bits >> 23U) - 127);
    const float m = std::bit_cast<float>((bits & 0x007FFFFFU) | 0x3F800000U);
    return exponent
           + (-2.7868F
              + m * (5.0469F + m * (-3.4925F + m * (1.5940F + m * (-0.40487F + m * 0.0434282F)))));
}

// Products of squared distances, and the logarithm of those that were full.
class PowerRow {
public:
    explicit PowerRow(const PointRow& points)
        : points_(points), product_(points.x.size(), 1.0F), log_(points.x.size(), 0.0F) {}

    void multiply(const Complex& root) { take(root, 1); }
    void divide(const Complex& root) { take(root, -1); }
    // In dB, and `more_db` on top.
    void write(double more_db, float* to) {
        take_logs();
        const auto more = static_cast<float>(more_db);
        for (std::size_t i = 0; i < log_.size(); ++i) {
            to[i] = std::clamp(10 / log2_of_10 * log_[i] + more, -most_db, most_db);
        }
    }

private:
    void take(const Complex& root, int power) {
        if (power != power_ || count_ == at_once) {
            take_logs();
            power_ = power;
        }
        constexpr float least = 1e-9F; // nothing is 0 on a root itself
        const float re = points_.across(root), dy = points_.up(root), dy2 = dy * dy + least;
        const float* x = points_.x.data();
        float* product = product_.data();
        for (std::size_t i = 0; i < product_.size(); ++i) {
            const float dx = x[i] - re;
            product[i] *= dx * dx + dy2;
        }
        ++count_;
    }
    void take_logs() {
        const auto sign = static_cast<float>(power_);
        for (std::size_t i = 0; i < log_.size(); ++i) {
            log_[i] += sign * quick_log2(std::clamp(product_[i], 1e-37F, 1e37F));
            product_[i] = 1;
        }
        count_ = 0;
    }

    const PointRow& points_;
    Row product_, log_;
    int power_ = 1, count_ = 0;
};

void level_row(const Roots& roots, const PlaneGrid& grid, double y, float* to) {
    const PointRow points(grid, y);
    PowerRow row(points);
    const int power = power_of_z(roots);
    for (const Complex& zero : roots.zeros) {
        row.multiply(zero);
    }
    for (int i = 0; i < power; ++i) {
        row.multiply(0);
    }
    for (const Complex& pole : roots.poles) {
        row.divide(pole);
    }
    for (int i = 0; i < -power; ++i) {
        row.divide(0);
    }
    const int degree =
        power + static_cast<int>(roots.zeros.size()) - static_cast<int>(roots.poles.size());
    row.write(db_from_ratio(std::max(std::abs(roots.gain), 1e-30))
                  + degree * db_from_ratio(points.unit),
              to);
}

// A product of z - root that keeps its angle; its size is brought back to 1 now and then.
class AngleRow {
public:
    explicit AngleRow(const PointRow& points)
        : points_(points), re_(points.x.size(), 1.0F), im_(points.x.size(), 0.0F) {}

    void turn(const Complex& root, float sign) {
        const float across = points_.across(root), dy = sign * points_.up(root);
        const float* x = points_.x.data();
        for (std::size_t i = 0; i < re_.size(); ++i) {
            const float dx = x[i] - across;
            const float re = re_[i] * dx - im_[i] * dy;
            im_[i] = re_[i] * dy + im_[i] * dx;
            re_[i] = re;
        }
        if (++count_ == at_once) {
            count_ = 0;
            for (std::size_t i = 0; i < re_.size(); ++i) {
                const float by = 1 / (std::abs(re_[i]) + std::abs(im_[i]) + 1e-37F);
                re_[i] *= by;
                im_[i] *= by;
            }
        }
    }
    void write(bool is_turned, float* to) const {
        for (std::size_t i = 0; i < re_.size(); ++i) {
            to[i] = is_turned ? std::atan2(-im_[i], -re_[i]) : std::atan2(im_[i], re_[i]);
        }
    }

private:
    const PointRow& points_;
    Row re_, im_;
    int count_ = 0;
};

void phase_row(const Roots& roots, const PlaneGrid& grid, double y, float* to) {
    const PointRow points(grid, y);
    AngleRow row(points);
    for (const Complex& zero : roots.zeros) {
        row.turn(zero, 1);
    }
    for (const Complex& pole : roots.poles) {
        row.turn(pole, -1);
    }
    const int power = power_of_z(roots);
    for (int i = 0; i < std::abs(power); ++i) {
        row.turn(0, power > 0 ? 1 : -1);
    }
    row.write(roots.gain < 0, to);
}

// The row that lies as far on the other side of the real axis, if it was worked out before.
std::optional<std::size_t> mirror_row(const PlaneGrid& grid, std::size_t k) {
    const double mirrored = 2 * grid.top / grid.step - static_cast<double>(k);
    const double nearest = std::round(mirrored);
    if (std::abs(mirrored - nearest) > 1e-6 || nearest < 0 || nearest >= static_cast<double>(k)) {
        return std::nullopt;
    }
    return static_cast<std::size_t>(nearest);
}

template <class MakeRow>
std::vector<float> over(const PlaneGrid& grid, float mirrored_sign, MakeRow make_row) {
    std::vector<float> values(grid.columns * grid.rows);
    for (std::size_t k = 0; k < grid.rows; ++k) {
        float* to = values.data() + k * grid.columns;
        if (const auto mirror = mirror_row(grid, k)) {
            const float* from = values.data() + *mirror * grid.columns;
            std::transform(from, from + grid.columns, to,
                           [&](float v) { return mirrored_sign * v; });
        } else {
            make_row(grid.top - grid.step * static_cast<double>(k), to);
        }
    }
    return values;
}

} // namespace

std::vector<float> level_db_over(const Roots& roots, const PlaneGrid& grid) {
    return over(grid, 1, [&](double y, float* to) { level_row(roots, grid, y, to); });
}

std::vector<float> phase_rad_over(const Roots& roots, const PlaneGrid& grid) {
    return over(grid, -1, [&](double y, float* to) { phase_row(roots, grid, y, to); });
}

} // namespace syntonon
