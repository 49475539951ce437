// What the judges of requirements share; each kind's own judge.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/extremum.h"
#include "core/goal/finding.h"
#include "core/goal/prediction.h"
#include "core/goal/requirement.h"
#include "core/goal/resolved_goal.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// One requirement before the judge. What it names must outlive it.
struct Case {
    std::string title;
    const ResolvedGoal& goal;
    const Prediction& prediction;

    double rate() const { return prediction.sample_rate_hz(); }
};

// Level: judge_level.cpp
Finding judge(const RippleRequirement& r, const Case& c);
Finding judge(const AttenuationRequirement& r, const Case& c);
Finding judge(const LevelRequirement& r, const Case& c);
Finding judge(const PeakGainRequirement& r, const Case& c);
// Where the level passes another: judge_crossing.cpp
Finding judge(const CrossingRequirement& r, const Case& c);
Finding judge(const TransitionWidthRequirement& r, const Case& c);
// Delay and phase: judge_delay.cpp
Finding judge(const GroupDelayRequirement& r, const Case& c);
Finding judge(const DelayVariationRequirement& r, const Case& c);
Finding judge(const PhaseRequirement& r, const Case& c);
// The answer in time: judge_time.cpp
Finding judge(const LatencyRequirement& r, const Case& c);
Finding judge(const PreRingingRequirement& r, const Case& c);
Finding judge(const PreRingingTimeRequirement& r, const Case& c);
Finding judge(const SettlingTimeRequirement& r, const Case& c);
Finding judge(const OvershootRequirement& r, const Case& c);
Finding judge(const DecayTimeRequirement& r, const Case& c);
// The filter itself: judge_filter.cpp
Finding judge(const StabilityRequirement& r, const Case& c);
Finding judge(const SectionsRequirement& r, const Case& c);
Finding judge(const TapsRequirement& r, const Case& c);
Finding judge(const BudgetRequirement& r, const Case& c);
Finding judge(const UnknownRequirement& r, const Case& c);
// Several channels together: judge_complementary.cpp
Finding judge(const AllPassComplementaryRequirement& r, const Case& c);
Finding judge(const PowerComplementaryRequirement& r, const Case& c);
Finding judge(const DelayComplementaryRequirement& r, const Case& c);

// What is missed by less is rounding: a filter that is designed to just meet a level meets it.
inline constexpr double rounding_db = 1e-9;

// A finding whose margin is `room`; numbers that do not exist are left out, but still judged.
Finding judged(std::string title, const char* unit, double value, double limit, double room,
               std::optional<double> worst_hz = std::nullopt);
// The same for a time that was found in samples, at most `limit`, and in its unit.
Finding judged_time(const Case& c, double samples, const Duration& limit);
// From samples into that unit.
void in_time_unit(Finding& finding, TimeUnit unit, double sample_rate_hz);

// Why a range cannot be looked at that ends so high; empty where it can.
std::string beyond_end(double to_hz, const Axis& axis);

// A quantity of the prediction: at one frequency, and on a grid, where it is quicker to ask.
struct Measure {
    Function at;
    std::vector<double> (Prediction::*on_grid)(const FrequencyGrid&) const;
};
Measure level_measure(const Prediction& prediction);

// A quantity on the telling frequencies of a range and at the corners, and between them.
struct Sampled {
    Function f;
    std::vector<double> hz, values;
};
Sampled sampled(double from_hz, double to_hz, const Prediction& prediction, const Measure& measure,
                const std::vector<double>& corners_hz = {});
// What `made` makes of the frequency and the quantity's value there.
template <class Make>
Sampled mapped(Sampled s, Make made) {
    for (std::size_t i = 0; i < s.hz.size(); ++i) {
        s.values[i] = made(s.hz[i], s.values[i]);
    }
    return {[f = std::move(s.f), made](double hz) { return made(hz, f(hz)); }, std::move(s.hz),
            std::move(s.values)};
}

Extremum highest(const Sampled& s);
Extremum lowest(const Sampled& s);

} // namespace syntonon
