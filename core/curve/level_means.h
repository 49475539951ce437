// A curve's level averaged in dB over a window about any frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <span>
#include <vector>

namespace syntonon {

// Straight in dB over log frequency between the points, so that the mean is exact.
class LevelMeans {
public:
    // Ascending positive frequencies, at least one.
    LevelMeans(std::span<const double> frequency_hz, std::span<const double> level_db);

    // Over `width_oct` octaves about the frequency, half to each side; cut off at the curve's ends.
    // With a width of 0, and beyond the ends, the level itself, held at the ends.
    double over(double hz, double width_oct) const;

private:
    double integral_to(double log2_hz) const; // from the first point
    double level_at(double log2_hz) const;

    std::vector<double> log2_hz_, level_db_, integral_;
};

} // namespace syntonon
