// Handles of modelled filters on the magnitude lane: frequency across, resonance up and down.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_grips.h"
#include "core/base/units.h"
#include "core/design/ladder.h"
#include "core/design/modelled_filter.h"
#include "core/design/state_variable.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::string_view at_set = "set frequency";
constexpr double lowest_hz = 1, below_end = 0.99;
constexpr double greatest_resonance = 0.99; // that is dragged to
constexpr double most_level_db = 60;

double level_where_set_db(const Filter& filter, double hz, const Axis& axis) {
    return std::clamp(Probe(filter, axis).level_db(hz), -most_level_db, most_level_db);
}

template <class Spec>
std::vector<Grip> one_grip(const Spec& spec, const Axis& axis) {
    const Filter filter = modelled_filter(build_of(spec), knobs_of(spec), axis);
    return {{at_set, spec.frequency_hz, level_where_set_db(filter, spec.frequency_hz, axis), true}};
}

// The resonance with which the level is that, by halving; the level grows with it.
template <class Spec>
double resonance_for(Spec spec, double level_db, const Axis& axis) {
    double low = 0, high = greatest_resonance;
    for (int i = 0; i < 24; ++i) {
        spec.resonance = (low + high) / 2;
        const Filter filter = modelled_filter(build_of(spec), knobs_of(spec), axis);
        (level_where_set_db(filter, spec.frequency_hz, axis) < level_db ? low : high) =
            spec.resonance;
    }
    return (low + high) / 2;
}

double held_hz(double hz, const Axis& axis) {
    return std::clamp(hz, lowest_hz, below_end * axis.end_hz());
}

bool grows_with_resonance(modelled::LadderResponse response) {
    return response != modelled::LadderResponse::notch
           && response != modelled::LadderResponse::all_pass;
}

bool grows_with_resonance(modelled::StateVariableResponse response) {
    return response == modelled::StateVariableResponse::low
           || response == modelled::StateVariableResponse::high;
}

} // namespace

std::vector<Grip> grips_of(const LadderSpec& spec, const Axis& axis) {
    return one_grip(spec, axis);
}

void move_grip(LadderSpec& spec, std::string_view, double hz, std::optional<double> level_db,
               const Axis& axis) {
    constexpr double most_share = 0.29; // see ladder_coefficients
    spec.frequency_hz =
        std::min(held_hz(hz, axis), most_share * axis.sample_rate_hz * spec.oversampling);
    if (level_db && grows_with_resonance(spec.response)) {
        spec.resonance = resonance_for(spec, *level_db, axis);
    }
}

void widen(LadderSpec& spec, double octave_factor, const Axis&) {
    spec.resonance = std::clamp(1 - (1 - spec.resonance) * octave_factor, 0.0, greatest_resonance);
}

std::vector<Grip> grips_of(const StateVariableSpec& spec, const Axis& axis) {
    return one_grip(spec, axis);
}

void move_grip(StateVariableSpec& spec, std::string_view, double hz, std::optional<double> level_db,
               const Axis& axis) {
    spec.frequency_hz = held_hz(hz, axis);
    if (!level_db) {
        return;
    }
    if (has_gain(spec.response)) {
        const double level = std::clamp(*level_db, -most_level_db, most_level_db);
        spec.gain_db = (spec.response == modelled::StateVariableResponse::peak ? level : 2 * level)
                       / std::max(1, spec.in_series);
    } else if (grows_with_resonance(spec.response)) {
        spec.resonance = resonance_for(spec, *level_db, axis);
    }
}

void widen(StateVariableSpec& spec, double octave_factor, const Axis&) {
    spec.resonance = std::clamp(1 - (1 - spec.resonance) * octave_factor, 0.0, greatest_resonance);
}

} // namespace syntonon
