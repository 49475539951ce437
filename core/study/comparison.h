// Curves made from two others: what is held against what, and the weighted error.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/analysis.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// One side of a difference, as `Difference` names it.
struct ComparedCurve {
    std::string key;  // "prediction", "measured", "target", "take:t1"
    std::string name; // for people
};

// Everything of the channel that can be compared now.
std::vector<ComparedCurve> comparable(const Channel& channel, const ChannelAnalysis& analysis);

// `of` minus `from` at the drawing frequencies where both are known. Refused, with the place
// "difference.of" or "difference.from", when one of them is not there.
Expected<LevelTrace> difference_of(const Difference& difference, const Channel& channel,
                                   const ChannelAnalysis& analysis);

// weight x (prediction - target) where both are known.
struct WeightedError {
    LevelTrace error;  // dB times the weight
    double rms_db = 0; // over log frequency
};
// Nothing without a target.
std::optional<WeightedError> weighted_error(const ChannelAnalysis& analysis);

} // namespace syntonon
