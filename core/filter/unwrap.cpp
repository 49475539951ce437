// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/unwrap.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <iterator>

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
    Follower(const Prober& prober, const Axis& axis) : prober_(prober), axis_(axis) {}

    Point at(double hz) const {
        const ResponsePoint here = prober_.response(circle_point(hz, axis_));
        return {hz, here.phase_rad, here.group_delay_samples};
    }

    // How far the phase goes between two points.
    double step(const Point& from, const Point& to, int halvings) {
        const double width = axis_.rad_per_sample(to.hz - from.hz);
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

    // The unwrapped phase at `to` when it is so far at `from`. Only whole turns are carried on; the
    // rest would gather rounding.
    double carried_on(double so_far, const Point& from, const Point& to) {
        const double off = so_far + step(from, to, most_turns_halved) - to.phase_rad;
        return to.phase_rad + 2 * pi * std::round(off / (2 * pi));
    }

private:
    const Prober& prober_;
    Axis axis_;
    int asked_ = 0;
};

} // namespace

PhaseKnots phase_knots(const Prober& prober, std::vector<double> telling_hz, const Axis& axis) {
    std::ranges::sort(telling_hz);
    Follower follower(prober, axis);
    Point last = follower.at(0);
    PhaseKnots knots{{0, last.phase_rad, last.phase_rad, last.delay_samples}};
    for (const double hz : telling_hz) {
        if (hz > last.hz) {
            const Point next = follower.at(hz);
            const double phase = follower.carried_on(knots.back().unwrapped_rad, last, next);
            knots.push_back({hz / axis.sample_rate_hz, phase, next.phase_rad, next.delay_samples});
            last = next;
        }
    }
    return knots;
}

Response followed_response(const Prober& prober, const PhaseKnots& knots,
                           const FrequencyGrid& grid) {
    const bool is_analog = grid.axis().is_analog();
    const double rate = is_analog ? 1 : grid.sample_rate_hz();
    const double delay_scale = is_analog ? grid.sample_rate_hz() : 1;
    Follower follower(prober, grid.axis());
    Response all(grid.size());
    if (knots.empty()) {
        for (std::size_t i = 0; i < grid.size(); ++i) {
            const ResponsePoint here = prober.response(grid.point(i));
            all.magnitude_db[i] = here.magnitude_db;
            all.phase_rad[i] = here.phase_rad;
            all.group_delay_samples[i] = here.group_delay_samples;
        }
        return all;
    }
    auto knot = knots.begin();
    Point last{};
    double so_far = 0;
    const auto stand_on = [&](const PhaseKnot& k) {
        last = {k.turns_per_sample * rate, k.wrapped_rad, k.delay_samples * delay_scale};
        so_far = k.unwrapped_rad;
    };
    stand_on(*knot);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double hz = grid.frequency_hz()[i];
        bool moved = false;
        while (std::next(knot) != knots.end() && std::next(knot)->turns_per_sample * rate <= hz) {
            ++knot;
            moved = true;
        }
        if (moved) {
            stand_on(*knot);
        }
        const ResponsePoint here = prober.response(grid.point(i));
        const Point next{hz, here.phase_rad, here.group_delay_samples};
        so_far = follower.carried_on(so_far, last, next);
        all.magnitude_db[i] = here.magnitude_db;
        all.phase_rad[i] = so_far;
        all.group_delay_samples[i] = here.group_delay_samples;
        last = next;
    }
    return all;
}

} // namespace syntonon
