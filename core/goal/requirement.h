// What a channel must meet beside its corridor. Levels are those of the prediction (measured times
// chain); phase, delays, gains, times and counts those of the chain.
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

enum class TimeUnit { samples, ms, s };

// A time in the unit it was given in, which is kept.
struct Duration {
    double value = 0;
    TimeUnit unit = TimeUnit::samples;
    bool operator==(const Duration&) const = default;
};

std::string_view key_of(TimeUnit unit); // "samples", "ms", "s"
double samples_of(const Duration& duration, double sample_rate_hz);
double from_samples(double samples, TimeUnit unit, double sample_rate_hz);

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

// From where the level passes pass_db to where it passes stop_db is at most max_hz. Of several such
// transitions in the range the widest counts.
struct TransitionWidthRequirement {
    static constexpr std::string_view kind = "transition_width";
    double from_hz = 1000, to_hz = 20000, pass_db = -1, stop_db = -40, max_hz = 2000;
    bool operator==(const TransitionWidthRequirement&) const = default;
};

// Group delay within value ± tolerance everywhere in the range; without a value, within the goal's
// delay target ± tolerance.
struct GroupDelayRequirement {
    static constexpr std::string_view kind = "group_delay";
    double from_hz = 0, to_hz = 1000;
    std::optional<Duration> value = Duration{};
    Duration tolerance = {1, TimeUnit::samples};
    bool operator==(const GroupDelayRequirement&) const = default;
};

// Longest minus shortest group delay of the range.
struct DelayVariationRequirement {
    static constexpr std::string_view kind = "delay_variation";
    double from_hz = 100, to_hz = 10000;
    Duration max = {1, TimeUnit::ms};
    bool operator==(const DelayVariationRequirement&) const = default;
};

// Phase within value ± tolerance, whole turns apart or not, everywhere in the range; without a
// value, within the goal's phase target ± tolerance.
struct PhaseRequirement {
    static constexpr std::string_view kind = "phase";
    double from_hz = 100, to_hz = 1000;
    std::optional<double> value_deg = 0;
    double tolerance_deg = 10;
    bool operator==(const PhaseRequirement&) const = default;
};

// The chain's greatest gain at any frequency: headroom.
struct PeakGainRequirement {
    static constexpr std::string_view kind = "peak_gain";
    double max_db = 6;
    bool operator==(const PeakGainRequirement&) const = default;
};

struct LatencyRequirement {
    static constexpr std::string_view kind = "latency";
    Duration max = {64, TimeUnit::samples};
    bool operator==(const LatencyRequirement&) const = default;
};

// The impulse response's energy before its main peak, against all of its energy.
struct PreRingingRequirement {
    static constexpr std::string_view kind = "pre_ringing";
    double max_db = -40;
    bool operator==(const PreRingingRequirement&) const = default;
};

// The impulse response first comes above threshold_db under its main peak at most `max` before it.
struct PreRingingTimeRequirement {
    static constexpr std::string_view kind = "pre_ringing_time";
    double threshold_db = -60;
    Duration max = {2, TimeUnit::ms};
    bool operator==(const PreRingingTimeRequirement&) const = default;
};

// After `max` the step response stays within this part of its final value (of the input step where
// the final value is 0).
struct SettlingTimeRequirement {
    static constexpr std::string_view kind = "settling_time";
    double within_percent = 1;
    Duration max = {20, TimeUnit::ms};
    bool operator==(const SettlingTimeRequirement&) const = default;
};

// How far the step response goes beyond its final value, in percent of that.
struct OvershootRequirement {
    static constexpr std::string_view kind = "overshoot";
    double max_percent = 10;
    bool operator==(const OvershootRequirement&) const = default;
};

// The slowest pole's own response falls by fall_db within `max`.
struct DecayTimeRequirement {
    static constexpr std::string_view kind = "decay_time";
    double fall_db = 60;
    Duration max = {100, TimeUnit::ms};
    bool operator==(const DecayTimeRequirement&) const = default;
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

struct TapsRequirement {
    static constexpr std::string_view kind = "taps";
    double max_taps = 1024;
    bool operator==(const TapsRequirement&) const = default;
};

// What a processor has is used up to so many percent, by all channels of a delivery that the
// channel is in; of several deliveries and of cycles, sections, taps and memory the tightest
// counts.
struct BudgetRequirement {
    static constexpr std::string_view kind = "budget";
    double max_percent = 100;
    bool operator==(const BudgetRequirement&) const = default;
};

// Channels by their ids; none: the other ways of the crossover that the channel is a way of.
struct ChannelIds {
    std::vector<std::string> ids;
    bool operator==(const ChannelIds&) const = default;
};

// Of the chains of several channels together, whatever was measured (P. P. Vaidyanathan, Multirate
// Systems and Filter Banks, 1993, section 3.5): the level of their sum is within max_db of 0 dB.
struct AllPassComplementaryRequirement {
    static constexpr std::string_view kind = "all_pass_complementary";
    double from_hz = 20, to_hz = 20000, max_db = 0.1;
    ChannelIds with;
    bool operator==(const AllPassComplementaryRequirement&) const = default;
};

// The sum of their powers is.
struct PowerComplementaryRequirement {
    static constexpr std::string_view kind = "power_complementary";
    double from_hz = 20, to_hz = 20000, max_db = 0.1;
    ChannelIds with;
    bool operator==(const PowerComplementaryRequirement&) const = default;
};

// Their sum is a delay, which is read where the range begins: off by no more than a sum of that
// level would be.
struct DelayComplementaryRequirement {
    static constexpr std::string_view kind = "delay_complementary";
    double from_hz = 20, to_hz = 20000, max_db = 0.1;
    ChannelIds with;
    bool operator==(const DelayComplementaryRequirement&) const = default;
};

// One that this version does not know: kept with all its keys, always undecided.
struct UnknownRequirement {
    static constexpr std::string_view kind{};
    std::string its_kind;
    bool operator==(const UnknownRequirement&) const = default;
};

// To add a kind: its struct, its fields (requirement_fields.h), its check and title (here) and how
// it is judged (judge_requirement.cpp).
using RequirementSpec =
    std::variant<RippleRequirement, AttenuationRequirement, LevelRequirement, CrossingRequirement,
                 TransitionWidthRequirement, GroupDelayRequirement, DelayVariationRequirement,
                 PhaseRequirement, PeakGainRequirement, LatencyRequirement, PreRingingRequirement,
                 PreRingingTimeRequirement, SettlingTimeRequirement, OvershootRequirement,
                 DecayTimeRequirement, StabilityRequirement, SectionsRequirement, TapsRequirement,
                 BudgetRequirement, AllPassComplementaryRequirement, PowerComplementaryRequirement,
                 DelayComplementaryRequirement, UnknownRequirement>;

struct Requirement {
    RequirementSpec spec;
    UnknownKeys unknown = {};

    bool operator==(const Requirement&) const = default;
};

// Refuses empty ranges, limits that contradict each other and numbers that are not finite; the
// place is the field.
Expected<void> check(const Requirement& requirement);

// "ripple 40–250 Hz", "level at 1 kHz".
std::string title_of(const Requirement& requirement);

} // namespace syntonon
