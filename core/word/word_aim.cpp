// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/word_aim.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr double counts_from_db = -60; // below the greatest level
constexpr std::size_t even_places = 160;
constexpr double demand_weight = 1000; // a demand that is not met counts more than any deviation
constexpr double mean_weight = 0.2;    // what is not the worst is to be small, too
constexpr double infinity = std::numeric_limits<double>::infinity();

} // namespace

WordAim plain_aim(const Filter& chain, double sample_rate_hz) {
    const Axis axis(sample_rate_hz);
    const double low = std::min(20.0, 0.1 * sample_rate_hz), high = 0.45 * sample_rate_hz;
    std::vector<double> hz = chain.telling_hz({low, high, 1.05, axis});
    const EvenSpacing spacing{true, low, high, even_places};
    for (std::size_t i = 0; i < even_places; ++i) {
        hz.push_back(spacing.at(i));
    }
    std::erase_if(hz, [&](double each) { return !(each >= low && each <= high); });
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), axis);
    const std::vector<double> level = chain.magnitude_db(*grid);
    const double greatest = *std::ranges::max_element(level);
    WordAim aim;
    aim.sample_rate_hz = sample_rate_hz;
    for (std::size_t i = 0; i < level.size(); ++i) {
        if (level[i] >= greatest + counts_from_db) {
            aim.hz.push_back(grid->frequency_hz()[i]);
        }
    }
    return aim;
}

WordPlaces::WordPlaces(const WordAim& aim)
    : room_above_db_(aim.room_above_db), room_below_db_(aim.room_below_db),
      weight_(aim.weight.empty() ? std::vector<double>(aim.hz.size(), 1.0) : aim.weight),
      grid_(*FrequencyGrid::from_frequencies(aim.hz, Axis(aim.sample_rate_hz))) {}

WordPlaces::Levels WordPlaces::levels_of(const Biquad& section) const {
    return magnitude_db(Cascade{{section}}, grid_);
}

double WordPlaces::cost_of(std::span<const double> deviation, std::span<const double> other,
                           double enough) const {
    double greatest = 0, squares = 0;
    for (std::size_t i = 0; i < deviation.size(); ++i) {
        const double d = deviation[i] + other[i];
        double here = weight_[i] * std::abs(d);
        squares += here * here;
        if (!room_above_db_.empty()) {
            here += demand_weight * std::max({0.0, d - room_above_db_[i], -d - room_below_db_[i]});
        }
        if (!(here <= enough)) {
            return infinity;
        }
        greatest = std::max(greatest, here);
    }
    return greatest + mean_weight * std::sqrt(squares / static_cast<double>(deviation.size()));
}

double WordPlaces::cost_of(std::span<const double> deviation) const {
    const std::vector<double> nothing(deviation.size());
    return cost_of(deviation, nothing, infinity);
}

double WordPlaces::room_of(std::span<const double> deviation) const {
    double room = infinity;
    for (std::size_t i = 0; i < room_above_db_.size(); ++i) {
        room = std::min({room, room_above_db_[i] - deviation[i], room_below_db_[i] + deviation[i]});
    }
    return room;
}

double greatest_magnitude(std::span<const double> values) {
    double greatest = 0;
    for (const double value : values) {
        greatest = std::max(greatest, std::abs(value));
    }
    return greatest;
}

std::vector<double> difference_of(std::vector<double> of, std::span<const double> from) {
    for (std::size_t i = 0; i < of.size(); ++i) {
        of[i] -= from[i];
    }
    return of;
}

} // namespace syntonon
