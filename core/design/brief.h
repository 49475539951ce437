// All that a designer may depend on beside its spec.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <memory>
#include <vector>

namespace syntonon {

// A response by its points, ascending. Phases may be empty.
struct SampledCurve {
    std::vector<double> frequency_hz, level_db, phase_deg;

    bool operator==(const SampledCurve&) const = default;
};

// What a goal asks of the level over a stretch of frequencies, by points, ascending from perhaps
// 0 Hz. Between them everything is straight in dB over log frequency.
struct WishedPart {
    std::vector<double> frequency_hz;
    std::vector<double> level_db;           // the target; empty: there is only a corridor
    std::vector<double> lower_db, upper_db; // the corridor's edges; empty where it is open
    std::vector<double> weight;             // of an error, a ratio; empty: 1

    bool operator==(const WishedPart&) const = default;
};

// By ascending frequency; between parts nothing is asked for. At a jump one ends where the next
// begins.
using Wished = std::vector<WishedPart>;

// Straight over log frequency between its points (degrees or ms).
struct WishedLine {
    std::vector<double> frequency_hz, value;

    bool operator==(const WishedLine&) const = default;
};

// What a goal asks of the timing of the chain alone, by ascending frequency; between lines nothing
// is asked for. Only a fit is told (see Briefs::fit_brief).
struct WishedTiming {
    std::vector<WishedLine> phase_deg, group_delay_ms;

    bool operator==(const WishedTiming&) const = default;
};

// An impulse response to make a model of. Only a fit is told.
struct SampledImpulse {
    double sample_rate_hz = 48000;
    std::vector<double> values;

    bool operator==(const SampledImpulse&) const = default;
};

// What a kind asks to be told; it is designed again exactly when one of these changes.
struct Needs {
    bool wished = false; // the goal's target, corridor and weights
    bool seen = false;   // the measured set, and so the stages above, too
    bool above = false;  // the filter of the stages above

    bool operator==(const Needs&) const = default;
    bool any() const { return wished || seen || above; }
};

struct SeenCurve {
    std::shared_ptr<const SampledCurve> curve; // not null
    double weight = 1;
};

// A measured set, without the stages above.
struct Seen {
    std::vector<SeenCurve> positions;
    // What they come to together; null without positions. The timing's phase is the one that they
    // agree on; null where one of them has none.
    std::shared_ptr<const SampledCurve> as_one, timing;
};

struct Brief {
    double sample_rate_hz = 48000;
    Domain domain = Domain::sampled;
    std::shared_ptr<const Wished> wished;              // null: no target, no absolute corridor
    std::shared_ptr<const WishedTiming> wished_timing; // null: nothing
    std::shared_ptr<const SampledImpulse> impulse;     // null: none
    Seen seen;
    Filter above; // a wire at the top of a chain

    Axis axis() const { return {sample_rate_hz, domain}; }
};

// Nothing wished, nothing seen, nothing above.
inline Brief brief_at(const Axis& axis) {
    Brief brief;
    brief.sample_rate_hz = axis.sample_rate_hz;
    brief.domain = axis.domain;
    return brief;
}
// The brief without what is not needed.
Brief only(const Brief& brief, const Needs& needs);
// Equal in content, however shared.
bool is_same(const Brief& a, const Brief& b);

} // namespace syntonon
