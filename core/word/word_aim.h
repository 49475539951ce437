// Where the level of words counts, and how far it may go.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/cascade.h"
#include "core/filter/grid.h"

#include <span>
#include <vector>

namespace syntonon {

// Where the level counts, and by how much it may rise or fall there before a demand is not met.
// Without demands (empty) the greatest deviation is made least.
struct WordAim {
    std::vector<double> hz;                           // ascending, from above 0 Hz to half the rate
    std::vector<double> room_above_db, room_below_db; // infinite where nothing is asked
    std::vector<double> weight = {};                  // of the deviation; empty: 1 everywhere
    double sample_rate_hz = 48000;
};
// Without demands, from 20 Hz to 0.45 of the rate and around each root; where the chain is more
// than 60 dB below its greatest level, nothing counts.
WordAim plain_aim(const Filter& chain, double sample_rate_hz);

// Levels at the aim's places.
class WordPlaces {
public:
    explicit WordPlaces(const WordAim& aim);

    using Levels = std::vector<double>;
    Levels levels_of(const Biquad& section) const;
    Levels levels_of(const Filter& filter) const { return filter.magnitude_db(grid_); }

    // What two deviations together cost: the greatest of them in dB, a thousand times as much of
    // what goes beyond a demand, and a fifth of their root mean square, so that what is not the
    // worst becomes small, too. Given up, and infinite, once it is more than `enough`.
    double cost_of(std::span<const double> deviation, std::span<const double> other,
                   double enough) const;
    double cost_of(std::span<const double> deviation) const;
    // What is left of the demands where it is least; infinite without.
    double room_of(std::span<const double> deviation) const;
    std::size_t size() const { return grid_.size(); }
    const FrequencyGrid& grid() const { return grid_; }

private:
    std::vector<double> room_above_db_, room_below_db_, weight_;
    FrequencyGrid grid_;
};

double greatest_magnitude(std::span<const double> values);
std::vector<double> difference_of(std::vector<double> of, std::span<const double> from);

} // namespace syntonon
