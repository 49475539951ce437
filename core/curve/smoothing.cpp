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

// Means of a curve's power. Areas from the first frequency on make each cheap; a quiet range that
// a loud one has swallowed there is added up by itself.
class PowerMean {
public:
    explicit PowerMean(const Curve& curve)
        : curve_(curve), reader_(curve), loudest_db_(std::ranges::max(curve.magnitude_db)) {
        areas_.reserve(curve.frequency_hz.size());
        areas_.push_back(0);
        for (std::size_t i = 1; i < curve.frequency_hz.size(); ++i) {
            areas_.push_back(areas_.back() + area_between(i - 1, i, loudest_db_));
        }
    }
    double mean_db(double from_hz, double to_hz) const {
        const double up_to = area_up_to(to_hz), area = up_to - area_up_to(from_hz);
        if (area > swallowed * up_to) {
            return loudest_db_ + db_from_power(area / std::log(to_hz / from_hz));
        }
        const double reference = loudest_within(from_hz, to_hz);
        return reference
               + db_from_power(area_within(from_hz, to_hz, reference) / std::log(to_hz / from_hz));
    }
    double level_db_at(double hz) const { return reader_.magnitude_db_at(hz); }

private:
    static constexpr double swallowed = 1e-7; // of a sum: half of the digits are gone

    double area_between(std::size_t i, std::size_t k, double reference_db) const {
        return power_area(curve_.magnitude_db[i] - reference_db,
                          curve_.magnitude_db[k] - reference_db,
                          std::log(curve_.frequency_hz[k] / curve_.frequency_hz[i]));
    }
    double area_up_to(double hz) const {
        const auto& f = curve_.frequency_hz;
        const auto i = first_above(hz) - 1;
        return i + 1 >= f.size()
                   ? areas_.back()
                   : areas_[i]
                         + power_area(curve_.magnitude_db[i] - loudest_db_,
                                      level_db_at(hz) - loudest_db_, std::log(hz / f[i]));
    }
    std::size_t first_above(double hz) const {
        const auto& f = curve_.frequency_hz;
        return static_cast<std::size_t>(std::ranges::upper_bound(f, hz) - f.begin());
    }
    double loudest_within(double from_hz, double to_hz) const {
        double loudest = std::max(level_db_at(from_hz), level_db_at(to_hz));
        for (std::size_t i = first_above(from_hz); i < first_above(to_hz); ++i) {
            loudest = std::max(loudest, curve_.magnitude_db[i]);
        }
        return loudest;
    }
    double area_within(double from_hz, double to_hz, double reference_db) const {
        double area = 0, last_hz = from_hz, last_db = level_db_at(from_hz);
        const auto go_on = [&](double hz, double db) {
            area += power_area(last_db - reference_db, db - reference_db, std::log(hz / last_hz));
            last_hz = hz;
            last_db = db;
        };
        for (std::size_t i = first_above(from_hz); i < first_above(to_hz); ++i) {
            go_on(curve_.frequency_hz[i], curve_.magnitude_db[i]);
        }
        go_on(to_hz, level_db_at(to_hz));
        return area;
    }

    const Curve& curve_;
    CurveReader reader_;
    double loudest_db_;
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
    const PowerMean power(curve);
    const double half = std::exp2(width_oct / 2);
    const bool averages = half > 1; // a width may be too small to be one
    const auto steps =
        static_cast<std::size_t>(std::ceil(octaves_between(low, high) * points_an_octave));
    for (std::size_t i = 0; i <= steps; ++i) {
        const double part = static_cast<double>(i) / static_cast<double>(steps);
        const double hz = i == steps ? high : low * std::pow(high / low, part);
        result.frequency_hz.push_back(hz);
        result.magnitude_db.push_back(
            averages ? power.mean_db(std::max(low, hz / half), std::min(high, hz * half))
                     : power.level_db_at(hz));
    }
    return result;
}

} // namespace syntonon
