// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/averages.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <fmt/format.h>
#include <iterator>

namespace syntonon {
namespace {

Expected<std::vector<WeightedCurve>> those_that_count(std::span<const WeightedCurve> curves) {
    std::vector<WeightedCurve> counting;
    for (std::size_t i = 0; i < curves.size(); ++i) {
        if (!(curves[i].weight >= 0) || !std::isfinite(curves[i].weight)) {
            return refuse(fmt::format("[{}].weight", i),
                          fmt::format("{} is not a weight", curves[i].weight),
                          "give a finite number that is not negative");
        }
        if (curves[i].weight > 0) {
            counting.push_back(curves[i]);
        }
    }
    if (counting.empty()) {
        return refuse("", "no curve has any weight", "give one of them a weight above 0");
    }
    return counting;
}

// As measured positions are that went through one gate: nothing has to be read between points.
bool share_points(std::span<const WeightedCurve> curves) {
    return std::ranges::all_of(curves, [&](const WeightedCurve& one) {
        return one.curve->frequency_hz == curves.front().curve->frequency_hz;
    });
}

// Every frequency that a curve gives within what all of them give.
std::vector<double> shared_frequencies(std::span<const WeightedCurve> curves) {
    double low = 0, high = infinity;
    for (const WeightedCurve& one : curves) {
        low = std::max(low, one.curve->low_hz());
        high = std::min(high, one.curve->high_hz());
    }
    std::vector<double> shared;
    for (const WeightedCurve& one : curves) {
        std::ranges::copy_if(one.curve->frequency_hz, std::back_inserter(shared),
                             [&](double hz) { return hz >= low && hz <= high; });
    }
    std::ranges::sort(shared);
    shared.erase(std::unique(shared.begin(), shared.end()), shared.end());
    return shared;
}

struct Reading {
    double weight = 0; // all of them make 1
    double level_db = 0, phase_rad = 0;
};

// Relative to the loudest, so that no power overflows.
double loudest_of(std::span<const Reading> readings) {
    return std::ranges::max_element(readings, {}, &Reading::level_db)->level_db;
}

void add_power(std::span<const Reading> readings, Curve& average) {
    const double loudest = loudest_of(readings);
    double power = 0;
    for (const Reading& reading : readings) {
        power += reading.weight * power_from_db(reading.level_db - loudest);
    }
    average.magnitude_db.push_back(loudest + db_from_power(power));
}

void add_level(std::span<const Reading> readings, Curve& average) {
    double level = 0;
    for (const Reading& reading : readings) {
        level += reading.weight * reading.level_db;
    }
    average.magnitude_db.push_back(level);
}

void add_vector(std::span<const Reading> readings, Curve& average) {
    constexpr double all_of_it_cancels = 1e-20;
    const double loudest = loudest_of(readings);
    std::complex<double> sum;
    for (const Reading& reading : readings) {
        sum += reading.weight
               * std::polar(std::pow(10, (reading.level_db - loudest) / 20), reading.phase_rad);
    }
    average.magnitude_db.push_back(loudest
                                   + db_from_ratio(std::max(std::abs(sum), all_of_it_cancels)));
    average.phase_deg.push_back(deg_from_rad(std::arg(sum)));
}

Expected<void> check_phases(std::span<const WeightedCurve> curves) {
    for (std::size_t i = 0; i < curves.size(); ++i) {
        if (curves[i].weight > 0 && !curves[i].curve->has_phase()) {
            return refuse(fmt::format("[{}].curve", i),
                          fmt::format("“{}” has no phase", curves[i].curve->name),
                          "give it no weight, or take another average");
        }
    }
    return {};
}

// Gives the levels and phases of all curves at the average's frequencies, one after the other.
class Readings {
public:
    Readings(std::span<const WeightedCurve> curves, bool with_phase)
        : curves_(curves), with_phase_(with_phase), share_points_(share_points(curves)),
          all_(curves.size()) {
        double weights = 0;
        for (const WeightedCurve& one : curves) {
            weights += one.weight;
        }
        for (std::size_t i = 0; i < curves.size(); ++i) {
            all_[i].weight = curves[i].weight / weights;
            if (!share_points_) {
                readers_.emplace_back(*curves[i].curve);
            }
        }
    }
    std::vector<double> frequencies() const {
        return share_points_ ? curves_.front().curve->frequency_hz : shared_frequencies(curves_);
    }
    // At the frequency of that place among them.
    std::span<const Reading> at(std::size_t place, double hz) {
        for (std::size_t i = 0; i < all_.size(); ++i) {
            const Curve& curve = *curves_[i].curve;
            all_[i].level_db =
                share_points_ ? curve.magnitude_db[place] : readers_[i].magnitude_db_at(hz);
            if (with_phase_) {
                const double deg =
                    share_points_ ? curve.phase_deg[place] : readers_[i].phase_deg_at(hz);
                all_[i].phase_rad = rad_from_deg(deg) + 2 * pi * hz * curves_[i].delay_s;
            }
        }
        return all_;
    }

private:
    std::span<const WeightedCurve> curves_;
    bool with_phase_, share_points_;
    std::vector<CurveReader> readers_; // none where points are shared
    std::vector<Reading> all_;
};

Curve without_delay(Curve curve, double delay_s) {
    for (std::size_t i = 0; i < curve.phase_deg.size(); ++i) {
        curve.phase_deg[i] += 360 * curve.frequency_hz[i] * delay_s;
    }
    return curve;
}

} // namespace

Expected<Curve> averaged(std::span<const WeightedCurve> curves, AverageOf of) {
    const auto counting = those_that_count(curves);
    if (!counting) {
        return tl::unexpected(counting.error());
    }
    if (auto ok = of == AverageOf::vectors ? check_phases(curves) : Expected<void>(); !ok) {
        return tl::unexpected(ok.error());
    }
    if (counting->size() == 1) {
        return without_delay(*counting->front().curve, counting->front().delay_s);
    }
    Readings readings(*counting, of == AverageOf::vectors);
    Curve average;
    average.frequency_hz = readings.frequencies();
    if (average.frequency_hz.empty()) {
        return refuse("", "the curves have no frequencies in common",
                      "leave out those that reach elsewhere");
    }
    const auto add = of == AverageOf::power   ? add_power
                     : of == AverageOf::level ? add_level
                                              : add_vector;
    for (std::size_t k = 0; k < average.frequency_hz.size(); ++k) {
        add(readings.at(k, average.frequency_hz[k]), average);
    }
    return average;
}

} // namespace syntonon
