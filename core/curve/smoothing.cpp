// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/smoothing.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon {
namespace {

// The integral of 10^(L/10) over x, where L runs straight from a to b dB over a length dx; the
// powers of both ends are given, too.
double power_area(double a_db, double a, double b_db, double b, double dx) {
    const double steepness = (b_db - a_db) * std::log(10.0) / 10;
    return std::abs(steepness) < 1e-6 ? dx * (a + b) / 2 : dx * (b - a) / steepness;
}
double power_area(double a_db, double b_db, double dx) {
    return power_area(a_db, power_from_db(a_db), b_db, power_from_db(b_db), dx);
}

// What both means want of a curve's points, worked out once: it is most of the work.
struct Points {
    explicit Points(const Curve& curve) : loudest_db(std::ranges::max(curve.magnitude_db)) {
        const std::size_t count = curve.frequency_hz.size();
        log_hz.reserve(count);
        power.reserve(count);
        for (std::size_t i = 0; i < count; ++i) {
            log_hz.push_back(std::log(curve.frequency_hz[i]));
            power.push_back(power_from_db(curve.magnitude_db[i] - loudest_db));
        }
    }
    double loudest_db;
    std::vector<double> log_hz, power; // power: against the loudest
};

// Means of a curve's power. Areas from the first frequency on make each cheap; a quiet range that
// a loud one has swallowed there is added up by itself.
class PowerMean {
public:
    PowerMean(const Curve& curve, const CurveReader& reader, const Points& points)
        : curve_(curve), reader_(reader), loudest_db_(points.loudest_db) {
        areas_.reserve(curve.frequency_hz.size());
        areas_.push_back(0);
        for (std::size_t i = 1; i < curve.frequency_hz.size(); ++i) {
            areas_.push_back(areas_.back()
                             + power_area(curve.magnitude_db[i - 1], points.power[i - 1],
                                          curve.magnitude_db[i], points.power[i],
                                          points.log_hz[i] - points.log_hz[i - 1]));
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
    const CurveReader& reader_;
    double loudest_db_;
    std::vector<double> areas_;
};

// Means of a curve's complex response, by the trapezoidal rule between its points: they stand close
// where there is phase to speak of.
class VectorMean {
public:
    VectorMean(const Curve& curve, const CurveReader& reader, const Points& points)
        : reader_(reader), loudest_db_(points.loudest_db) {
        areas_.reserve(curve.frequency_hz.size());
        for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
            const double magnitude = std::sqrt(points.power[i]);
            const Area here{points.log_hz[i],
                            std::polar(magnitude, rad_from_deg(curve.phase_deg[i])),
                            magnitude,
                            {},
                            0};
            areas_.push_back(areas_.empty() ? here : after(areas_.back(), here));
        }
    }
    // Its argument is what counts of a range that a louder one swallows.
    std::complex<double> mean(double from_hz, double to_hz) const {
        if (!(to_hz > from_hz)) {
            return at(to_hz);
        }
        const Area before = area_up_to(from_hz), behind = area_up_to(to_hz);
        constexpr double swallowed = 1e-9;
        const double size = behind.size - before.size;
        return size > swallowed * behind.size
                   ? (behind.sum - before.sum) / std::log(to_hz / from_hz)
                   : at(std::sqrt(from_hz * to_hz));
    }
    double loudest_db() const { return loudest_db_; }

private:
    struct Area {
        double log_hz = 0;
        std::complex<double> value; // there
        double magnitude = 0;       // of the value
        std::complex<double> sum;   // up to there
        double size = 0;            // the same of magnitudes
    };
    std::complex<double> at(double hz) const {
        return std::polar(ratio_from_db(reader_.magnitude_db_at(hz) - loudest_db_),
                          rad_from_deg(reader_.phase_deg_at(hz)));
    }
    static Area after(const Area& last, Area next) {
        const double half = (next.log_hz - last.log_hz) / 2;
        next.sum = last.sum + half * (last.value + next.value);
        next.size = last.size + half * (last.magnitude + next.magnitude);
        return next;
    }
    Area area_up_to(double hz) const {
        const auto next = std::ranges::upper_bound(areas_, std::log(hz), {}, &Area::log_hz);
        if (next == areas_.begin()) {
            return areas_.front();
        }
        const std::complex<double> value = at(hz);
        return after(*std::prev(next), {std::log(hz), value, std::abs(value), {}, 0});
    }

    const CurveReader& reader_;
    double loudest_db_;
    std::vector<Area> areas_;
};

// Equal ratios, both ends among them.
std::vector<double> spread_over(double low_hz, double high_hz, double points_an_octave) {
    const auto steps =
        static_cast<std::size_t>(std::ceil(octaves_between(low_hz, high_hz) * points_an_octave));
    std::vector<double> all(steps + 1);
    for (std::size_t i = 0; i < steps; ++i) {
        all[i] = low_hz
                 * std::pow(high_hz / low_hz, static_cast<double>(i) / static_cast<double>(steps));
    }
    all[steps] = high_hz;
    return all;
}

struct Window {
    double from_hz, to_hz;
    bool is_one() const { return to_hz > from_hz; }
};
Window window_about(double hz, double width_oct, const Curve& curve) {
    const double half = std::exp2(width_oct / 2);
    if (!(half > 1)) { // a width may be too small to be one
        return {hz, hz};
    }
    return {std::max(curve.low_hz(), hz / half), std::min(curve.high_hz(), hz * half)};
}

double level_about(const PowerMean& power, const Smoothing& smoothing, double hz,
                   const Curve& curve) {
    const double width_oct = width_oct_at(smoothing, hz);
    const auto mean = [&](double width) {
        const Window window = window_about(hz, width, curve);
        return window.is_one() ? power.mean_db(window.from_hz, window.to_hz)
                               : power.level_db_at(hz);
    };
    constexpr double finer = 1.0 / 3;
    return smoothing.kind == SmoothingKind::psychoacoustic
               ? std::max(mean(width_oct), mean(finer * width_oct))
               : mean(width_oct);
}

void add_phase(const Curve& curve, const CurveReader& reader, const Points& points,
               const Smoothing& smoothing, Curve& result) {
    const VectorMean vectors(curve, reader, points);
    for (std::size_t i = 0; i < result.frequency_hz.size(); ++i) {
        const double hz = result.frequency_hz[i];
        const Window window = window_about(hz, width_oct_at(smoothing, hz), curve);
        const std::complex<double> mean = vectors.mean(window.from_hz, window.to_hz);
        result.phase_deg.push_back(deg_from_rad(std::arg(mean)));
        if (smoothing.of_vectors && std::abs(mean) > 0) {
            result.magnitude_db[i] = vectors.loudest_db() + db_from_ratio(std::abs(mean));
        }
    }
}

} // namespace

double width_oct_at(const Smoothing& smoothing, double hz) {
    if (smoothing.kind == SmoothingKind::octave) {
        return smoothing.width_oct;
    }
    if (smoothing.kind == SmoothingKind::by_frequency) {
        constexpr double fine = 1.0 / 48, middle = 1.0 / 6, coarse = 1.0 / 3;
        const double decades = std::clamp(std::log10(hz / 1000), -1.0, 1.0);
        return decades < 0 ? middle * std::pow(middle / fine, decades)
                           : middle * std::pow(coarse / middle, decades);
    }
    const double half_hz = 24.7 * (4.37e-3 * hz + 1) / 2;
    const double lowest_hz = hz / 4; // below 20 Hz the ear's filters would reach below 0
    return octaves_between(std::max(hz - half_hz, lowest_hz), hz + half_hz);
}

Curve smoothed(const Curve& curve, const Smoothing& smoothing, double points_an_octave) {
    Curve result;
    result.id = curve.id;
    result.name = curve.name;
    if (curve.low_hz() == curve.high_hz()) {
        result.frequency_hz = curve.frequency_hz;
        result.magnitude_db = curve.magnitude_db;
        result.phase_deg = curve.phase_deg;
        return result;
    }
    result.frequency_hz = spread_over(curve.low_hz(), curve.high_hz(), points_an_octave);
    const CurveReader reader(curve);
    const Points points(curve);
    const PowerMean power(curve, reader, points);
    for (const double hz : result.frequency_hz) {
        result.magnitude_db.push_back(level_about(power, smoothing, hz, curve));
    }
    if (curve.has_phase()) {
        add_phase(curve, reader, points, smoothing, result);
    }
    return result;
}

} // namespace syntonon
