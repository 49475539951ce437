// A root of a stage taken by the hand, whatever the stage's kind.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/root_edits.h"
#include "core/study/stage.h"

namespace syntonon {

// Kinds by roots or coefficients bring own_roots(spec, filter) and with_own_roots(spec, filter,
// roots) along: any of their roots goes anywhere. Of the others those move that say which of their
// fields move a root: fields_moving_roots(spec, pole) -> keys. The rest do not. Kinds whose fields
// keep poles where they are stable may bring freed(spec, brief) along, the same filter as a kind by
// coefficients: a pole that is taken out of there turns the stage into that.

// The spec with the root, counted as in its filter's roots, as near to the place as its fields
// allow; of what else could be, the other roots move least (damped Gauss-Newton steps; J. Nocedal
// and S. J. Wright, Numerical Optimization, 2nd ed., 2006, section 10.3). `snap` as in
// root_edits.h. Refused where the kind does not move roots, or where there is no such root.
Expected<StageSpec> with_root_moved(const StageSpec& spec, const Filter& filter, const Brief& brief,
                                    const RootPlace& place, std::complex<double> to, double snap);

// As roots, for kinds that are: gain, delay and all. Nothing of the others.
std::optional<RootsSpec> own_roots(const StageSpec& spec, const Filter& filter);
// The spec of such a kind with other roots. Coefficients stay coefficients, with their a[0] and
// delay.
StageSpec with_own_roots(const StageSpec& spec, const Filter& filter, const RootsSpec& roots);

} // namespace syntonon
