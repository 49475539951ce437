// One frequency at a time: the verdict's inner loop.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/grid.h"
#include "core/filter/response.h"

#include <complex>
#include <memory>

namespace syntonon {

class Filter;

// H and dH/dw at one frequency, on the unit circle or the imaginary axis. What is below `floor`
// cannot be told from rounding.
struct FilterValue {
    std::complex<double> h;
    std::complex<double> slope; // by rad/sample
    double floor = 0;
};

// -infinity below the floor; that of the greatest number where H is beyond it.
double level_db(const FilterValue& value);
// -Im(H'/H). NaN where the level vanishes, and so close to there that rounding would move the delay
// by more than a thousandth of a sample.
double group_delay_samples(const FilterValue& value);

// d|H|^2 / dw, or, around a peak, the same of -1 / |H|^2; both but for a factor. Beside a dip the
// one is a straight line and beside a peak the other, however sharp they are: what is looked for is
// soon found.
double rise_of(const FilterValue& value, bool around_peak);

// From where a frequency is come to; the phase at a zero on the circle depends on it.
enum class Side { below, above };

// What a form of filter keeps ready for being asked at single frequencies. Each form makes its own.
class Prober {
public:
    virtual ~Prober() = default;
    virtual FilterValue value(const CirclePoint& at) const = 0;
    // These follow from the value; a form that knows them better says so.
    virtual double level_db(const CirclePoint& at) const;
    // But for whole turns; at a zero the limit from that side (above 0 Hz, below half the rate).
    virtual double phase_rad(const CirclePoint& at, Side side) const;
    virtual double group_delay_samples(const CirclePoint& at) const;
    // All three, the phase from above: at once where they follow from the value.
    virtual ResponsePoint response(const CirclePoint& at) const;
};
ResponsePoint response_of(const FilterValue& value, const CirclePoint& at);

// A filter prepared for being asked. Cheap to ask, not quite as cheap to make.
class Probe {
public:
    Probe(const Filter& filter, const Axis& axis);

    // `hz` from 0 to the axis' end.
    FilterValue value(double hz) const { return prober_->value(point(hz)); }
    double level_db(double hz) const { return prober_->level_db(point(hz)); }
    double phase_rad(double hz, Side side = Side::above) const {
        return prober_->phase_rad(point(hz), side);
    }
    double group_delay_samples(double hz) const { return prober_->group_delay_samples(point(hz)); }

private:
    CirclePoint point(double hz) const { return circle_point(hz, axis_); }
    std::shared_ptr<const Prober> prober_;
    Axis axis_;
};

} // namespace syntonon
