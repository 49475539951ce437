// Modelled filters as filters: what they compute, and the linear filter that stands for them to
// small signals.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/filter/modelled/state_variable_filter_kernel.h"

#include <complex>
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

} // namespace syntonon
