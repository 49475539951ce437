// What keeps a study from being used in full.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/briefs.h"
#include "core/study/study.h"

#include <vector>

namespace syntonon {

// In order of the file: names of things that are not there, goals that contradict themselves or
// follow what is not there, stages that cannot be designed. Places are paths
// ("channels[0].stages[2].frequency_hz"). A stage that takes long is no problem before the store
// has its design; see briefs.h for the jobs.
std::vector<Problem> problems_of(const Study& study, Briefs& briefs);
std::vector<Problem> problems_of(const Study& study); // from nothing

} // namespace syntonon
