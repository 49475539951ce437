// What a channel's lanes show, as numbers.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/analysis.h"

#include <string>

namespace syntonon {

// CSV: frequency_hz, measured_db, predicted_db, target_db, weight, chain_db, chain_phase_deg
// (unwrapped), chain_group_delay_ms, then "<take> db" of each take that is shown. One row for each
// drawing frequency; a cell is empty where there is no value. 17 significant digits.
std::string curve_table(const Study& study, const Channel& channel,
                        const ChannelAnalysis& analysis);

} // namespace syntonon
