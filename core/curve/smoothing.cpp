// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/smoothing.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// The integral of 10^(L/10) over x, where L runs straight from a to b dB over a length dx.
double power_area(double a_db, double b_db, double dx) {
    const double a = std::pow(10, a_db / 10), b = std::pow(10, b_db / 10);
    const double steepness = (b_db - a_db) * std::log(10.0) / 10;
    return std::abs(steepness) < 1e-6 ? dx * (a + b) / 2 : dx * (b - a) / steepness;
}

// The integral of a curve's power from its first frequency on.
class PowerIntegral {
public:
    explicit PowerIntegral(const Curve& curve) : curve_(curve), reader_(curve) {
        areas_.reserve(curve.frequency_hz.size());
        areas_.push_back(0);
        for (std::size_t i = 1; i < curve.frequency_hz.size(); ++i) {
            areas_.push_back(
                areas_.back()
                + power_area(curve.magnitude_db[i - 1], curve.magnitude_db[i],
                             std::log(curve.frequency_hz[i] / curve.frequency_hz[i - 1])));
        }
    }
    double up_to(double hz) const {
        const auto& f = curve_.frequency_hz;
        const auto above = std::ranges::upper_bound(f, hz);
        const auto i = static_cast<std::size_t>(above - f.begin()) - 1;
        if (i + 1 >= f.size()) {
            return areas_.back();
        }
        return areas_[i]
               + power_area(curve_.magnitude_db[i], reader_.magnitude_db_at(hz),
                            std::log(hz / f[i]));
    }
    double mean_db(double from_hz, double to_hz) const {
        return db_from_power((up_to(to_hz) - up_to(from_hz)) / std::log(to_hz / from_hz));
    }
    double level_db_at(double hz) const { return reader_.magnitude_db_at(hz); }

private:
    const Curve& curve_;
    CurveReader reader_;
    std::vector<double> areas_;
};

} // namespace

Curve smoothed(const Curve& curve, double width_oct, double points_an_octave) {
    Curve result;
    result.id = curve.id;
    result.name = curve.name;
    const double low = curve.low_hz(), high = curve.high_hz();
    if (low == high) {
        result.frequency_hz = curve.frequency_hz;
        result.magnitude_db = curve.magnitude_db;
        return result;
    }
    const PowerIntegral power(curve);
    const double half = std::exp2(width_oct / 2);
    const auto steps =
        static_cast<std::size_t>(std::ceil(octaves_between(low, high) * points_an_octave));
    for (std::size_t i = 0; i <= steps; ++i) {
        const double part = static_cast<double>(i) / static_cast<double>(steps);
        const double hz = i == steps ? high : low * std::pow(high / low, part);
        result.frequency_hz.push_back(hz);
        result.magnitude_db.push_back(
            width_oct > 0 ? power.mean_db(std::max(low, hz / half), std::min(high, hz * half))
                          : power.level_db_at(hz));
    }
    return result;
}

} // namespace syntonon
