// Phase and delay of what was measured times the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"
#include "core/study/trace.h"

#include <optional>
#include <vector>

namespace syntonon {

// A measured phase made quick to ask, together with its group delay.
class MeasuredTiming {
public:
    explicit MeasuredTiming(const Curve& curve); // which must have phase

    struct At {
        double phase_rad = 0;     // unwrapped
        double group_delay_s = 0; // straight between the curve's points over log frequency
    };
    // Nothing beyond the curve's ends.
    std::optional<At> at(double hz) const;

private:
    CurveReader phase_, delay_;
};

// The chain's trace with the measured phase and delay added, as far as both reach; its levels stay
// the chain's.
Trace predicted_timing(const Trace& chain, const MeasuredTiming& measured, double sample_rate_hz);

} // namespace syntonon
