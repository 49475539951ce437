// Handles of a crossover's way on the magnitude lane: where it crosses its neighbours.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_grips.h"
#include "core/design/crossover.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::array<std::string_view, most_crossover_frequencies> crossing_keys{
    "first crossing", "second crossing", "third crossing"};

double level_where_crossing_db(CrossoverFamily family) {
    const bool is_half =
        family == CrossoverFamily::linkwitz_riley || family == CrossoverFamily::linear_phase;
    constexpr double half_db = -6.02, half_power_db = -3.01;
    return is_half ? half_db : half_power_db;
}

} // namespace

std::vector<Grip> grips_of(const CrossoverSpec& spec, const Axis&) {
    std::vector<Grip> grips;
    for (std::size_t k = 0; k < std::min(spec.frequencies_hz.size(), crossing_keys.size()); ++k) {
        const int below = static_cast<int>(k) + 1; // the way that ends there
        if (spec.way == below || spec.way == below + 1) {
            grips.push_back({crossing_keys[k], spec.frequencies_hz[k],
                             level_where_crossing_db(spec.family), false, "Move a crossing of %1"});
        }
    }
    return grips;
}

void move_grip(CrossoverSpec& spec, std::string_view key, double hz, std::optional<double>,
               const Axis& axis) {
    constexpr double least_ratio = 1.01, lowest_hz = 1, below_end = 0.99;
    auto& all = spec.frequencies_hz;
    for (std::size_t k = 0; k < std::min(all.size(), crossing_keys.size()); ++k) {
        if (key == crossing_keys[k]) {
            const double low = k > 0 ? all[k - 1] * least_ratio : lowest_hz;
            const double high =
                k + 1 < all.size() ? all[k + 1] / least_ratio : below_end * axis.end_hz();
            all[k] = low < high ? std::clamp(hz, low, high) : all[k];
        }
    }
}

// Its slopes are the family's.
void widen(CrossoverSpec&, double, const Axis&) {}

} // namespace syntonon
