// Modelled filters as filters: what they compute, and the linear filter that stands for them to
// small signals.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/filter/modelled/ladder_build.h"
#include "core/filter/modelled/state_variable_build.h"

#include <complex>
#include <optional>
#include <variant>
#include <vector>

namespace syntonon {

// H(s) = gain prod(s - zero) / prod(s - pole), s in units of the set frequency (rad/s), prewarped.
// Conjugates written out, the upper one first.
struct ModelledRoots {
    std::vector<std::complex<double>> zeros, poles;
    double gain = 1;
};
ModelledRoots modelled_roots(const modelled::LadderBuild& build,
                             const modelled::LadderKnobs& knobs);
ModelledRoots modelled_roots(const modelled::StateVariableBuild& build,
                             const modelled::StateVariableKnobs& knobs);

// On a sampled axis computed as an instrument computes it; on an analog one the model itself,
// linear. A saturating ladder beyond its limit has poles outside of the circle and still stays
// within bounds.
Filter modelled_filter(const modelled::LadderBuild& build, const modelled::LadderKnobs& knobs,
                       const Axis& axis);
Filter modelled_filter(const modelled::StateVariableBuild& build,
                       const modelled::StateVariableKnobs& knobs, const Axis& axis);

// What a filter was made of by modelled_filter().
struct LadderModel {
    modelled::LadderBuild build;
    modelled::LadderKnobs knobs;

    bool operator==(const LadderModel&) const = default;
};
struct StateVariableModel {
    modelled::StateVariableBuild build;
    modelled::StateVariableKnobs knobs;

    bool operator==(const StateVariableModel&) const = default;
};
using FilterModel = std::variant<LadderModel, StateVariableModel>;
std::optional<FilterModel>
model_of(const Filter& filter); // nothing of any other, and of analog ones

// Of the first such filter in a row: what it is set to.
std::optional<double> modelled_frequency_hz(const Filter& chain);
inline bool has_model(const Filter& chain) {
    return modelled_frequency_hz(chain).has_value();
}

// Filters that nothing saturates in, for comparison: of each ladder a state-variable filter of its
// frequency, resonance (held below 1) and slopes. Nothing where there is no ladder in the row.
bool has_ladder(const Filter& chain);
std::optional<Filter> with_state_variables(const Filter& chain, const Axis& axis);

} // namespace syntonon
