// How many sections, and about where: one after the other at what is left over, each time all of
// them refined together; then those that do least are tried elsewhere, and some of them by chance.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/joint_sections.h"

#include <functional>
#include <vector>

namespace syntonon {

using SectionsSoFar = std::function<void(std::span<const SectionNumbers>)>;

// Up to `count` free ones, by ascending frequency; fewer where more do not help or all errors are
// within the method's tolerance. They keep to their bounds and, as far as the locked ones let
// them, to the limits of the whole. `so_far` hears of each state that is worth showing. Reports to
// the watch how far it has come; when that says stop, what has been found counts.
std::vector<SectionNumbers> find_sections(const JointSections& task,
                                          const SectionsCorrection& method,
                                          const CorrectionAim& aim, std::size_t count,
                                          const Watch& watch, const SectionsSoFar& so_far = {});

} // namespace syntonon
