// What the Docent microphone hears: a narration beside the projector, and two ways to clean it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

namespace syntonon {

// Adds the signals to the study, and to the channel of the id "docent" its bench and two takes.
void add_docent_bench(Study& study);

} // namespace syntonon
