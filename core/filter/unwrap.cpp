// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/unwrap.h"

#include "core/base/units.h"

#include <cmath>

namespace syntonon {
namespace {

constexpr double agreed_rad = 0.7;
constexpr int most_turns_halved = 14;
constexpr int most_points = 1 << 16; // in all: a phase that is not to be followed is left wrapped

struct Point {
    double hz, phase_rad, delay_samples;
};

class Follower {
public:
    Follower(const Prober& prober, double sample_rate_hz)
        : prober_(prober), rate_(sample_rate_hz) {}

    Point at(double hz) const {
        const CirclePoint point = circle_point(hz, rate_);
        return {hz, prober_.phase_rad(point, Side::above), prober_.group_delay_samples(point)};
    }

    // How far the phase goes between two points.
    double step(const Point& from, const Point& to, int halvings) {
        const double width = rad_per_sample_from_hz(to.hz - from.hz, rate_);
        const double expected = -width * (from.delay_samples + to.delay_samples) / 2;
        const double nearest = std::remainder(to.phase_rad - from.phase_rad, 2 * pi);
        if (std::isnan(expected)) {
            return nearest; // beside a zero
        }
        const double off = std::remainder(to.phase_rad - from.phase_rad - expected, 2 * pi);
        if (std::abs(off) <= agreed_rad || halvings == 0 || ++asked_ > most_points) {
            return expected + off;
        }
        const Point middle = at((from.hz + to.hz) / 2);
        return step(from, middle, halvings - 1) + step(middle, to, halvings - 1);
    }

private:
    const Prober& prober_;
    double rate_;
    int asked_ = 0;
};

} // namespace

std::vector<double> unwrapped_phase_rad(const Prober& prober, const FrequencyGrid& grid) {
    Follower follower(prober, grid.sample_rate_hz());
    std::vector<double> phase(grid.size());
    Point last = follower.at(0);
    double so_far = last.phase_rad;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const Point next = follower.at(grid.frequency_hz()[i]);
        // Only whole turns are carried on; the rest would gather rounding.
        const double off = so_far + follower.step(last, next, most_turns_halved) - next.phase_rad;
        so_far = next.phase_rad + 2 * pi * std::round(off / (2 * pi));
        phase[i] = so_far;
        last = next;
    }
    return phase;
}

} // namespace syntonon
