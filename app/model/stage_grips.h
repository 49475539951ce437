// Handles on the magnitude lane for the selected stage, whatever its kind.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/stage.h"

#include <optional>

namespace syntonon {

struct ParametricSpec;

// Where the handles stand. Sides are the width's two ends.
struct StageGrips {
    double frequency_hz = 0;
    double level_db = 0;
    bool level_moves = false; // dragging up and down does something
    struct Sides {
        double low_hz, high_hz, level_db;
    };
    std::optional<Sides> sides;
};

// A kind that is held on the lane adds its four functions here and writes them beside its trim
// panel; the others have no handles. Results keep within what the kind can be designed with,
// however far the handle is dragged.
std::optional<StageGrips> grips_of(const ParametricSpec& spec, double sample_rate_hz);
void move_grip(ParametricSpec& spec, double hz, std::optional<double> level_db,
               double sample_rate_hz);
void move_side(ParametricSpec& spec, double hz, double sample_rate_hz);
void widen(ParametricSpec& spec, double octave_factor, double sample_rate_hz);

// The same for any stage.
std::optional<StageGrips> grips_of(const StageSpec& spec, double sample_rate_hz);
void move_grip(StageSpec& spec, double hz, std::optional<double> level_db, double sample_rate_hz);
void move_side(StageSpec& spec, double hz, double sample_rate_hz);
void widen(StageSpec& spec, double octave_factor, double sample_rate_hz);

} // namespace syntonon
