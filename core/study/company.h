// Other channels that a goal's requirements speak of.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/company.h"
#include "core/study/briefs.h"

#include <vector>

namespace syntonon {

// Null for a requirement of one channel alone.
const ChannelIds* channels_of(const Requirement& requirement);
bool asks_for_company(const Goal& goal);

// The chains of the channels that its requirements name, and of the other ways of the first
// crossover in the channel's own chain. Jobs of what is still to be designed are added.
Company company_of(const Study& study, const Channel& channel, const Goal& goal, Briefs& briefs,
                   std::vector<DesignJob>& jobs);

bool is_same(const Company& a, const Company& b);

} // namespace syntonon
