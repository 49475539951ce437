// What a delivery's channels cost on its processor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/briefs.h"
#include "core/study/study.h"
#include "core/word/budget.h"

#include <vector>

namespace syntonon {

// That a delivery may be for: the study's own, then the program's that it has not changed.
std::vector<const Processor*> processors_of(const Study& study);
// All sampled channels, or those that it names and that are there.
std::vector<const Channel*> channels_of(const Study& study, const Delivery& delivery);

// Of all of its channels together. Refused: no processor, or one that is not there; a channel that
// is no sections, taps and delay one after the other, or cannot be designed, or is not yet.
Expected<Budget> budget_of(const Study& study, const Delivery& delivery, Briefs& briefs);
// The processor's size of block that it is run with.
int block_frames_of(const Delivery& delivery, const Processor& processor);

} // namespace syntonon
