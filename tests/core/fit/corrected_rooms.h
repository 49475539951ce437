// Briefs with something to correct.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/brief.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <cmath>
#include <functional>
#include <memory>
#include <vector>

namespace syntonon {

using LevelAt = std::function<double(double hz)>;

inline std::shared_ptr<const SampledCurve> sampled(const LevelAt& level, double low_hz = 20,
                                                   double high_hz = 20'000) {
    SampledCurve curve;
    constexpr double an_octave = 48;
    const auto steps = static_cast<int>(an_octave * std::log2(high_hz / low_hz));
    for (int i = 0; i <= steps; ++i) {
        const double hz = i < steps ? low_hz * std::exp2(i / an_octave) : high_hz;
        curve.frequency_hz.push_back(hz);
        curve.level_db.push_back(level(hz));
    }
    return std::make_shared<const SampledCurve>(std::move(curve));
}

// Seen at these positions, the mean of their levels as one; wished: 0 dB from 20 Hz to 20 kHz.
inline Brief brief_seeing(const std::vector<LevelAt>& positions) {
    Brief brief = brief_at(rate);
    brief.wished =
        std::make_shared<const Wished>(Wished{WishedPart{{20, 20'000}, {0, 0}, {}, {}, {}}});
    for (const LevelAt& position : positions) {
        brief.seen.positions.push_back({sampled(position), 1});
    }
    brief.seen.as_one = sampled([&](double hz) {
        double sum = 0;
        for (const LevelAt& position : positions) {
            sum += position(hz);
        }
        return sum / static_cast<double>(positions.size());
    });
    return brief;
}

// The level of a filter.
inline LevelAt level_of(Filter filter) {
    return [filter = std::move(filter)](double hz) {
        return filter.response_at(hz, rate).magnitude_db;
    };
}

// Two bells, far from the ends of what is corrected.
inline Filter two_bells() {
    return series(std::vector{section(ParametricShape::peak, 150, 7, 2),
                              section(ParametricShape::peak, 2500, -5, 1.2)});
}

} // namespace syntonon
