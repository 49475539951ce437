// What a channel must meet beside its corridor. Levels are those of the prediction (measured times
// chain), delays, gains and counts those of the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"

#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace syntonon {

// Highest minus lowest level of the range is at most max_db.
struct RippleRequirement {
    static constexpr std::string_view kind = "ripple";
    double from_hz = 100, to_hz = 10000, max_db = 1;
    bool operator==(const RippleRequirement&) const = default;
};

// The level is at most -min_db everywhere in the range.
struct AttenuationRequirement {
    static constexpr std::string_view kind = "attenuation";
    double from_hz = 20000, to_hz = 22000, min_db = 40;
    bool operator==(const AttenuationRequirement&) const = default;
};

// The level at one frequency; one of the limits may be absent.
struct LevelRequirement {
    static constexpr std::string_view kind = "level";
    double at_hz = 1000;
    std::optional<double> min_db = -1, max_db = 1;
    bool operator==(const LevelRequirement&) const = default;
};

// The frequency at which the level passes level_db, up or down, lies within the limits. Of several
// such frequencies the one nearest to the limits counts.
struct CrossingRequirement {
    static constexpr std::string_view kind = "crossing";
    double level_db = -3, min_hz = 1000, max_hz = 2000;
    bool operator==(const CrossingRequirement&) const = default;
};

// Group delay within value ± tolerance everywhere in the range.
struct GroupDelayRequirement {
    static constexpr std::string_view kind = "group_delay";
    double from_hz = 0, to_hz = 1000, value_samples = 0, tolerance_samples = 1;
    bool operator==(const GroupDelayRequirement&) const = default;
};

// The chain's greatest gain at any frequency: headroom.
struct PeakGainRequirement {
    static constexpr std::string_view kind = "peak_gain";
    double max_db = 6;
    bool operator==(const PeakGainRequirement&) const = default;
};

struct LatencyRequirement {
    static constexpr std::string_view kind = "latency";
    double max_samples = 64;
    bool operator==(const LatencyRequirement&) const = default;
};

// 1 - largest pole radius.
struct StabilityRequirement {
    static constexpr std::string_view kind = "stability_margin";
    double min_margin = 0.001;
    bool operator==(const StabilityRequirement&) const = default;
};

struct SectionsRequirement {
    static constexpr std::string_view kind = "sections";
    double max_sections = 10;
    bool operator==(const SectionsRequirement&) const = default;
};

// One that this version does not know: kept with all its keys, always undecided.
struct UnknownRequirement {
    static constexpr std::string_view kind = "";
    std::string its_kind;
    bool operator==(const UnknownRequirement&) const = default;
};

using RequirementSpec =
    std::variant<RippleRequirement, AttenuationRequirement, LevelRequirement, CrossingRequirement,
                 GroupDelayRequirement, PeakGainRequirement, LatencyRequirement,
                 StabilityRequirement, SectionsRequirement, UnknownRequirement>;

struct Requirement {
    RequirementSpec spec;
    UnknownKeys unknown;

    bool operator==(const Requirement&) const = default;
};

// Refuses empty ranges, limits that contradict each other and numbers that are not finite; the
// place is the field.
Expected<void> check(const Requirement& requirement);

// "ripple 40–250 Hz", "level at 1 kHz".
std::string title_of(const Requirement& requirement);

} // namespace syntonon
