// What a filter does to a sine at each frequency of a grid.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <vector>

namespace syntonon {

// Parallel to a grid's frequencies. Where the magnitude vanishes, magnitude_db is -infinity and
// group_delay_samples, which is undefined there, is NaN: a curve drawn from it has a gap.
// phase_rad is unwrapped: continuous but for jumps of pi at zeros on the circle.
struct Response {
    std::vector<double> magnitude_db;
    std::vector<double> phase_rad;
    std::vector<double> group_delay_samples;

    Response() = default;
    // Of a straight wire: 0 dB, no phase, no delay.
    explicit Response(std::size_t count)
        : magnitude_db(count, 0.0), phase_rad(count, 0.0), group_delay_samples(count, 0.0) {}

    std::size_t size() const { return magnitude_db.size(); }
    // Of both one after the other. Sizes must agree.
    void follow_with(const Response& next);
    void repeat(double times); // the same so many times, one after the other
};

// One frequency's worth.
struct ResponsePoint {
    double magnitude_db = 0;
    double phase_rad = 0;
    double group_delay_samples = 0;
};

} // namespace syntonon
