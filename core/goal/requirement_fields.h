// The fields of each kind of requirement, listed once: for reading, writing and editing them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/quantity.h"
#include "core/goal/requirement.h"

namespace syntonon {

// `key` is the field's name in a study file; of a duration only its stem, to which the unit is
// added ("max" -> "max_ms").
struct RequirementField {
    const char* key;
    const char* caption; // for people, without the unit
    const char* unit;    // of a number; empty: none, or the duration's own
    Dimension dimension;
};

namespace requirement_field {
inline constexpr RequirementField from{"from_hz", "from", "Hz", Dimension::frequency};
inline constexpr RequirementField to{"to_hz", "to", "Hz", Dimension::frequency};
inline constexpr RequirementField max_db{"max_db", "at most", "dB", Dimension::level};
inline constexpr RequirementField min_db{"min_db", "at least", "dB", Dimension::level};
inline constexpr RequirementField max_time{"max", "at most", "", Dimension::time};
inline constexpr RequirementField max_hz{"max_hz", "at most", "Hz", Dimension::frequency};
} // namespace requirement_field

// Calls visit(RequirementField, member) for each; a member is a double, a Duration, an optional
// of either or a ChannelIds. `R` may be const.
template <class R, class Visit>
void each_field(R& r, Visit&& visit) {
    using Spec = std::remove_const_t<R>;
    namespace field = requirement_field;
    if constexpr (requires { r.from_hz; }) {
        visit(field::from, r.from_hz);
        visit(field::to, r.to_hz);
    }
    if constexpr (
        std::is_same_v<
            Spec,
            RippleRequirement> || std::is_same_v<Spec, PeakGainRequirement> || std::is_same_v<Spec, PreRingingRequirement>) {
        visit(field::max_db, r.max_db);
    } else if constexpr (std::is_same_v<Spec, AttenuationRequirement>) {
        visit(field::min_db, r.min_db);
    } else if constexpr (std::is_same_v<Spec, LevelRequirement>) {
        visit(RequirementField{"at_hz", "at", "Hz", Dimension::frequency}, r.at_hz);
        visit(field::min_db, r.min_db);
        visit(field::max_db, r.max_db);
    } else if constexpr (std::is_same_v<Spec, CrossingRequirement>) {
        visit(RequirementField{"level_db", "level", "dB", Dimension::level}, r.level_db);
        visit(RequirementField{"min_hz", "at least", "Hz", Dimension::frequency}, r.min_hz);
        visit(field::max_hz, r.max_hz);
    } else if constexpr (std::is_same_v<Spec, TransitionWidthRequirement>) {
        visit(RequirementField{"pass_db", "pass level", "dB", Dimension::level}, r.pass_db);
        visit(RequirementField{"stop_db", "stop level", "dB", Dimension::level}, r.stop_db);
        visit(field::max_hz, r.max_hz);
    } else if constexpr (std::is_same_v<Spec, GroupDelayRequirement>) {
        visit(RequirementField{"value", "delay", "", Dimension::time}, r.value);
        visit(RequirementField{"tolerance", "tolerance ±", "", Dimension::time}, r.tolerance);
    } else if constexpr (std::is_same_v<Spec, PhaseRequirement>) {
        visit(RequirementField{"value_deg", "phase", "°", Dimension::angle}, r.value_deg);
        visit(RequirementField{"tolerance_deg", "tolerance ±", "°", Dimension::angle},
              r.tolerance_deg);
    } else if constexpr (
        std::is_same_v<Spec,
                       DelayVariationRequirement> || std::is_same_v<Spec, LatencyRequirement>) {
        visit(field::max_time, r.max);
    } else if constexpr (std::is_same_v<Spec, PreRingingTimeRequirement>) {
        visit(RequirementField{"threshold_db", "above", "dB", Dimension::level}, r.threshold_db);
        visit(field::max_time, r.max);
    } else if constexpr (std::is_same_v<Spec, SettlingTimeRequirement>) {
        visit(RequirementField{"within_percent", "within ±", "%", Dimension::plain},
              r.within_percent);
        visit(field::max_time, r.max);
    } else if constexpr (requires { r.max_percent; }) {
        visit(RequirementField{"max_percent", "at most", "%", Dimension::plain}, r.max_percent);
    } else if constexpr (std::is_same_v<Spec, DecayTimeRequirement>) {
        visit(RequirementField{"fall_db", "fall by", "dB", Dimension::level}, r.fall_db);
        visit(field::max_time, r.max);
    } else if constexpr (std::is_same_v<Spec, StabilityRequirement>) {
        visit(RequirementField{"min_margin", "at least", "", Dimension::plain}, r.min_margin);
    } else if constexpr (std::is_same_v<Spec, SectionsRequirement>) {
        visit(RequirementField{"max_sections", "at most", "", Dimension::plain}, r.max_sections);
    } else if constexpr (std::is_same_v<Spec, TapsRequirement>) {
        visit(RequirementField{"max_taps", "at most", "", Dimension::plain}, r.max_taps);
    } else if constexpr (requires { r.with; }) {
        visit(RequirementField{"max_db", "within ±", "dB", Dimension::level}, r.max_db);
        visit(RequirementField{"with", "with", "", Dimension::plain}, r.with);
    }
}

} // namespace syntonon
