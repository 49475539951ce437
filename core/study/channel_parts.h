// A channel as sections, taps and a delay.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/in_sections.h"
#include "core/study/briefs.h"
#include "core/study/study.h"

#include <string_view>

namespace syntonon {

// Sections, delay and taps of everything that is switched on in the channel. Refuses, naming the
// stage, what cannot be designed, is still being designed or is made of something else, and an
// analog channel.
Expected<SeriesParts> channel_parts(const Study& study, const Channel& channel, Briefs& briefs);

// "channel zenith, section 3": the same problem where several channels are spoken of.
Problem of_channel(std::string_view id, Problem problem);

} // namespace syntonon
