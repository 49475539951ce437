// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_grips.h"

#include "core/study/kinds.h"

namespace syntonon {

std::optional<StageGrips> grips_of(const StageSpec& spec, double sample_rate_hz) {
    return std::visit([&](const auto& s) { return grips_of(s, sample_rate_hz); }, *spec);
}

void move_grip(StageSpec& spec, double hz, std::optional<double> level_db, double sample_rate_hz) {
    std::visit([&](auto& s) { move_grip(s, hz, level_db, sample_rate_hz); }, spec.edit());
}

void move_side(StageSpec& spec, double hz, double sample_rate_hz) {
    std::visit([&](auto& s) { move_side(s, hz, sample_rate_hz); }, spec.edit());
}

void widen(StageSpec& spec, double octave_factor, double sample_rate_hz) {
    std::visit([&](auto& s) { widen(s, octave_factor, sample_rate_hz); }, spec.edit());
}

} // namespace syntonon
