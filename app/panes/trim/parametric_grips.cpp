// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_grips.h"
#include "core/base/units.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr std::string_view centre = "centre", low_side = "low side", high_side = "high side";
constexpr double narrowest_oct = 0.01, widest_oct = 10;
constexpr double steepest_drag_db = 60;
constexpr double lowest_drag_hz = 1;

// The analog relation between Q and bandwidth; near half the sample rate the drawn bell is a little
// narrower, which matters for a handle's place but not for any coefficient.
double octaves_of_q(double q) {
    return 2 / std::numbers::ln2 * std::asinh(1 / (2 * q));
}

double q_of_octaves(double octaves) {
    return 1 / (2 * std::sinh(std::numbers::ln2 / 2 * octaves));
}

bool level_is_q(ParametricShape shape) {
    // |H| at the corner of a second-order low- or high-pass is Q itself.
    return shape == ParametricShape::low_pass || shape == ParametricShape::high_pass;
}

double q_of(const ParametricSpec& spec, const Axis& axis) {
    return width_as(spec, WidthKind::q, axis).value_or(std::numbers::sqrt2 / 2);
}

// Sets the width as the user says it, so that a bandwidth stays a bandwidth.
void set_octaves(ParametricSpec& spec, double octaves, const Axis& axis) {
    octaves = std::clamp(octaves, narrowest_oct, widest_oct);
    const WidthKind kind = spec.width.kind;
    ParametricSpec by_q = spec;
    by_q.width = {WidthKind::q, q_of_octaves(octaves)};
    if (kind == WidthKind::bandwidth_oct) {
        spec.width.value = octaves;
    } else if (kind == WidthKind::q) {
        spec.width = by_q.width;
    } else if (const auto value = width_as(by_q, kind, axis)) {
        spec.width.value = *value;
    }
}

double grip_level(const ParametricSpec& spec, const Axis& axis) {
    if (has_gain(spec.shape)) {
        return spec.gain_db;
    }
    if (spec.order == 2 && level_is_q(spec.shape)) {
        return db_from_ratio(q_of(spec, axis));
    }
    return spec.order == 1 && spec.shape != ParametricShape::all_pass ? -3.0103 : 0.0;
}

void move_side(ParametricSpec& spec, double hz, const Axis& axis) {
    set_octaves(
        spec, 2 * std::abs(octaves_between(spec.frequency_hz, std::max(hz, lowest_drag_hz))), axis);
}

} // namespace

std::vector<Grip> grips_of(const ParametricSpec& spec, const Axis& axis) {
    if (!parametric_filter(spec, axis)) {
        return {};
    }
    const double level_db = grip_level(spec, axis);
    const bool moves_level = has_gain(spec.shape) || (spec.order == 2 && level_is_q(spec.shape));
    std::vector<Grip> grips{{centre, spec.frequency_hz, level_db, moves_level}};
    if (spec.order == 2 && !level_is_q(spec.shape)) {
        const double half = octaves_of_q(q_of(spec, axis)) / 2;
        const double side_db = spec.shape == ParametricShape::peak ? spec.gain_db / 2 : level_db;
        for (const auto& [key, octaves] : {std::pair(low_side, -half), {high_side, half}}) {
            grips.push_back({key, spec.frequency_hz * std::exp2(octaves), side_db, false,
                             "Change the width of %1"});
        }
    }
    return grips;
}

void move_grip(ParametricSpec& spec, std::string_view key, double hz,
               std::optional<double> level_db, const Axis& axis) {
    if (key != centre) {
        move_side(spec, hz, axis);
        return;
    }
    spec.frequency_hz = std::clamp(hz, lowest_drag_hz, axis.end_hz() * 0.999);
    if (!level_db) {
        return;
    }
    const double level = std::clamp(*level_db, -steepest_drag_db, steepest_drag_db);
    if (has_gain(spec.shape)) {
        spec.gain_db = level;
    } else if (spec.order == 2 && level_is_q(spec.shape)) {
        spec.width = {WidthKind::q, std::clamp(ratio_from_db(level), least_q, greatest_q)};
    }
}

void widen(ParametricSpec& spec, double octave_factor, const Axis& axis) {
    if (spec.order == 2) {
        set_octaves(spec, octaves_of_q(q_of(spec, axis)) * octave_factor, axis);
    }
}

} // namespace syntonon
