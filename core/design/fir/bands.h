// What is asked of an FIR, band by band, or by the goal.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"
#include "core/design/brief.h"
#include "core/design/fir/goal_amplitude.h"
#include "core/design/weight_curve.h"

#include <optional>
#include <vector>

namespace syntonon {

struct FirBand {
    double from_hz = 0, to_hz = 1000;
    double gain = 1;               // a ratio, at from_hz
    std::optional<double> gain_to; // at to_hz, straight over Hz; absent: the same
    double weight = 1;             // of an error in it
    UnknownKeys unknown = {};

    bool operator==(const FirBand&) const = default;
};

// What a channel's bands are stated by. The bands are kept while the goal is used.
struct FirWish {
    bool use_goal = false;
    std::vector<FirBand> bands{{0, 4000, 1, {}, 1, {}}, {6000, 24000, 0, {}, 1, {}}};
    WeightCurve weights =
        {}; // of errors, beside the bands' or the goal's own; where a method weighs

    bool operator==(const FirWish&) const = default;
};

// By ascending frequency. Refuses, naming the place ("bands[1].to_hz"): no bands, one that is
// empty, reversed, beyond half the rate or over another one, a weight that is not positive, a
// number that is not finite, all gains 0; and where the goal is used, a channel without one (see
// goal_amplitude.h).
Expected<Amplitude> amplitude_of(const FirWish& wish, const Brief& brief,
                                 Least least = Least::squared_error);

inline constexpr WeightLimits fir_weights{1e-8, 1e8};
// With the curve of weights, in steps of at most 3 %. Refuses one that is out of order or range, at
// "weights[2].weight".
Expected<Amplitude> weighted_amplitude_of(const FirWish& wish, const Brief& brief,
                                          Least least = Least::squared_error);

// From 0 to pi without gaps: straight from one piece to the next, level beyond the ends.
std::vector<LinePiece> joined(const Amplitude& wanted);

// Refuses what taps of that length and symmetry cannot do at 0 Hz or half the rate, and names the
// type.
Expected<void> check_reach(const LinearPhaseType& type, const Amplitude& wanted);

} // namespace syntonon
