// The analog filters behind a sampled chain, and a sampled channel made of an analog one.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical.h"
#include "core/study/briefs.h"
#include "core/study/design_store.h"

namespace syntonon {

// Designs what has an analog prototype in the s-plane, and all else as it is: so a sampled chain
// becomes what it would be without any mapping. Evaluated on the sampled axis, where analog parts
// answer at the same Hz.
const Designer& analog_where_possible();

// Maps the stage by the bilinear transform; false where it is mapped so, or not at all. Stages that
// are held stay as they are.
bool use_bilinear(StageSpec& spec);
bool is_impulse_invariant(const StageSpec& spec);
// Whether there is a prototype in the s-plane behind it.
bool has_analog_side(const StageSpec& spec);

// A sampled channel that does what an analog one does, with an id and name of its own; goal and
// measurement stay. Bilinear: stage by stage, each prewarped at its own frequencies, of the order
// that it has, and still to be edited. Impulse-invariant and matched: the whole chain's poles and
// zeros in one stage of roots. Refused: a sampled channel, what has no roots or more than are
// searched for, and with impulse invariance what lets high frequencies through.
Expected<Channel> mapped_channel(const Study& study, const Channel& analog, PlaneMapping mapping,
                                 Briefs& briefs);

} // namespace syntonon
