// What the ways of a crossover come to together, on axis and off it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/study/measured.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

// One way: its channel's whole chain, times what was measured of it.
struct WayHeard {
    Filter chain;
    SharedMeasured measured; // null: the chain alone
    double height_m = 0;     // of its source above any common point
};

// The ways are measured only where all of them are, with phase; else their chains are summed.
bool are_measured(std::span<const WayHeard> ways);

struct WaySum {
    std::vector<double> level_db;
    std::vector<double> phase_rad; // followed from the first frequency on
    std::vector<double> delay_s;   // group delay; NaN where the level vanishes
};

inline constexpr double speed_of_sound_m_per_s = 343;

// The ways' responses, worked out once and added up as often as asked for. Far away, at an angle
// above the axis, a source that stands higher by h is nearer by h sin(angle).
class SummedWays {
public:
    SummedWays(std::span<const WayHeard> ways, const FrequencyGrid& grid);

    const std::vector<double>& hz() const { return hz_; }
    std::size_t count() const { return ways_.size(); }
    std::vector<double> level_db(std::size_t way) const;
    WaySum sum(double angle_deg) const;
    // Its level alone, which is quicker.
    std::vector<double> sum_db(double angle_deg) const;
    // |H|^2 of all ways: 0 dB of power-complementary ones.
    std::vector<double> power_db() const;

private:
    struct Way {
        std::vector<FilterValue> values;
        double height_m = 0;
    };
    FilterValue heard(const Way& way, std::size_t i, double sine) const;

    std::vector<double> hz_;
    double rate_hz_;
    std::vector<Way> ways_;
};

// Level against angle and frequency, of angles one after the other.
struct LobeMap {
    std::vector<double> angles_deg, hz;
    std::vector<std::vector<double>> level_db; // by angle
    // Where the sum is loudest, by frequency; NaN where one way alone is heard, so that nothing
    // tilts (the next one is `alone_db` below it).
    std::vector<double> loudest_deg;
};
inline constexpr double alone_db = 20;
LobeMap lobes_of(const SummedWays& ways, std::vector<double> angles_deg);

} // namespace syntonon
