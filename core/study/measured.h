// What a channel's measured set comes to: the one curve that its chain is multiplied with.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/averages.h"
#include "core/curve/curve.h"
#include "core/design/brief.h"
#include "core/study/study.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct MeasuredPosition {
    SharedValue<Curve> curve;
    double weight = 1;
};

struct Measured {
    std::vector<MeasuredPosition> positions; // one or more
    AverageOf average;                       // what the curve is of several
    SharedValue<Curve> curve;                // the one position's, or the average of all
    CurveReader reader;                      // of that curve
    // The phase that the set agrees on: the one position's, or that of the average of vectors.
    // Nothing where a position has no phase.
    std::optional<SharedValue<Curve>> timing;

    // Of the delays that were taken out of its curves' phases, the weighted mean.
    double delay_s() const;
    std::string name() const; // for people: the curve's, or "3 positions"
};
using SharedMeasured = std::shared_ptr<const Measured>;

// Null for a channel without positions. Refused, with the place "measured" or "measured[1].curve",
// where a curve is not in the study or their average cannot be made.
Expected<SharedMeasured> measured_of(const Study& study, const Channel& channel);

// The set as a designer is told of them.
Seen seen_of(const Measured& measured);

// Gives the same object as long as a channel's curves and weights stay the same.
class MeasuredSets {
public:
    Expected<SharedMeasured> of(const Study& study, const Channel& channel);

private:
    std::map<std::string, SharedMeasured, std::less<>> kept_; // by channel
};

} // namespace syntonon
