// How loud and how late measured channels are against one another, and what makes them alike.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/study/briefs.h"
#include "core/study/measured.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

struct AlignRange {
    double from_hz = 200, to_hz = 5000;

    bool operator==(const AlignRange&) const = default;
};
// Refuses, by the field's name, a range that does not ascend or is not positive.
Expected<void> check(const AlignRange& range);

// When a curve's sound arrives: the delay that was taken out of its phase; of a response that kept
// its own, the median of its excess delay over the range. Nothing without phase.
std::optional<double> arrival_of(const Curve& curve, const AlignRange& range);

// Where a channel stands, its chain included.
struct Standing {
    std::optional<double> level_db;  // mean over the range, over log frequency
    std::optional<double> arrival_s; // weighted mean of the positions, and the chain's delay there
    std::string missing;             // why one of them is not known, and the way out; else empty
    // What would make it stand as all others do: as loud as the quietest, as late as the latest.
    std::optional<double> gain_db, delay_s;
};
// `measured` may be null. The range must pass check().
Standing standing_of(const SharedMeasured& measured, const Filter& chain, const Axis& axis,
                     const AlignRange& range);
// Fills in gain and delay of those whose level and arrival are known.
void compare(std::span<Standing> standings);

// Parallel to the study's channels: their gain and delay stages "Align level" and "Align delay", at
// the chains' ends, changed by that, or added; delays in whole samples. What all of them cut or
// wait in common is given back. What is not known, or is off by less than half a step, stays.
void align(Study& study, std::span<const Standing> standings);

// These channels, by their ids, against one another, as they stand now; what has to be designed for
// that is waited for.
void align_channels(Study& study, std::span<const std::string> ids, Briefs& briefs,
                    const AlignRange& range = {});

} // namespace syntonon
