// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/spread.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {

Spread spread_of(std::span<const CurveReader* const> curves, double points_an_octave) {
    Spread spread;
    double low_hz = 0, high_hz = curves.empty() ? 0 : std::numeric_limits<double>::max();
    for (const CurveReader* curve : curves) {
        low_hz = std::max(low_hz, curve->low_hz());
        high_hz = std::min(high_hz, curve->high_hz());
    }
    const double step = std::exp2(1 / points_an_octave);
    for (double hz = low_hz; hz > 0 && hz <= high_hz; hz *= step) {
        double lowest = std::numeric_limits<double>::max(), highest = -lowest;
        for (const CurveReader* curve : curves) {
            const double level = curve->magnitude_db_at(hz);
            lowest = std::min(lowest, level);
            highest = std::max(highest, level);
        }
        spread.frequency_hz.push_back(hz);
        spread.lowest_db.push_back(lowest);
        spread.highest_db.push_back(highest);
    }
    return spread;
}

} // namespace syntonon
