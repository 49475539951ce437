// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/classical_goal.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

namespace syntonon {
namespace {

using Band = ClassicalBand;

struct Range {
    double from_hz, to_hz, db; // ripple, or attenuation
};

struct Ranges {
    std::vector<Range> pass, stop;
};

void add_corridor_range(const CorridorRange& range, const ResolvedGoal& goal, Ranges& all) {
    constexpr int looked_at = 9;
    double lower = -std::numeric_limits<double>::infinity();
    double upper = std::numeric_limits<double>::infinity();
    const double low = std::max(range.from_hz, range.to_hz * 1e-6);
    for (int i = 0; i < looked_at; ++i) {
        const double hz = low * std::pow(range.to_hz / low, double(i) / (looked_at - 1));
        const auto band = band_at(range, goal, std::min(hz, range.to_hz));
        if (!band) {
            return; // a gap of the target, or none
        }
        lower = std::max(lower, band->lower_db);
        upper = std::min(upper, band->upper_db);
    }
    if (std::isfinite(lower) && lower < 0 && upper >= 0) {
        all.pass.push_back({range.from_hz, range.to_hz, -lower});
    } else if (!std::isfinite(lower) && upper < 0) {
        all.stop.push_back({range.from_hz, range.to_hz, -upper});
    }
}

Ranges ranges_of(const ResolvedGoal& goal) {
    Ranges all;
    for (const CorridorRange& range : goal.goal->corridor) {
        add_corridor_range(range, goal, all);
    }
    for (const Requirement& requirement : goal.goal->requirements) {
        if (const auto* ripple = std::get_if<RippleRequirement>(&requirement.spec)) {
            all.pass.push_back({ripple->from_hz, ripple->to_hz, ripple->max_db});
        } else if (const auto* down = std::get_if<AttenuationRequirement>(&requirement.spec)) {
            all.stop.push_back({down->from_hz, down->to_hz, down->min_db});
        }
    }
    return all;
}

double least_from(const std::vector<Range>& ranges) {
    return std::ranges::min_element(ranges, {}, &Range::from_hz)->from_hz;
}
double greatest_to(const std::vector<Range>& ranges) {
    return std::ranges::max_element(ranges, {}, &Range::to_hz)->to_hz;
}

// The stopbands that lie below or above a frequency.
std::vector<Range> below(const std::vector<Range>& ranges, double hz) {
    std::vector<Range> found;
    std::ranges::copy_if(ranges, std::back_inserter(found),
                         [&](const Range& r) { return r.to_hz <= hz; });
    return found;
}
std::vector<Range> above(const std::vector<Range>& ranges, double hz) {
    std::vector<Range> found;
    std::ranges::copy_if(ranges, std::back_inserter(found),
                         [&](const Range& r) { return r.from_hz >= hz; });
    return found;
}

tl::unexpected<Problem> lacks(const char* what) {
    return refuse("", std::string("the goal has no ") + what,
                  "draw it as a corridor range (open below for a stopband), or state it as a "
                  "requirement of ripple or attenuation");
}

} // namespace

Expected<Tolerances> tolerances_from(const ResolvedGoal& goal, Band band,
                                     const Tolerances& otherwise) {
    const Ranges all = ranges_of(goal);
    if (all.pass.empty()) {
        return lacks("passband");
    }
    if (all.stop.empty()) {
        return lacks("stopband");
    }
    Tolerances found = otherwise;
    const double pass_from = least_from(all.pass), pass_to = greatest_to(all.pass);
    std::vector<Range> stops;
    if (band == Band::band_stop) {
        const double stop_from = least_from(all.stop), stop_to = greatest_to(all.stop);
        const auto lower = below(all.pass, stop_from), upper = above(all.pass, stop_to);
        if (lower.empty() || upper.empty()) {
            return lacks("passband on both sides of its stopband");
        }
        found.pass_edges_hz = {greatest_to(lower), least_from(upper)};
        found.stop_edges_hz = {stop_from, stop_to};
        stops = all.stop;
    } else {
        const auto lower = below(all.stop, pass_from), upper = above(all.stop, pass_to);
        if (band != Band::low_pass && lower.empty()) {
            return lacks("stopband below its passband");
        }
        if (band != Band::high_pass && upper.empty()) {
            return lacks("stopband above its passband");
        }
        if (band == Band::low_pass) {
            found.pass_edges_hz[0] = pass_to;
            found.stop_edges_hz[0] = least_from(upper);
            stops = upper;
        } else if (band == Band::high_pass) {
            found.pass_edges_hz[0] = pass_from;
            found.stop_edges_hz[0] = greatest_to(lower);
            stops = lower;
        } else {
            found.pass_edges_hz = {pass_from, pass_to};
            found.stop_edges_hz = {greatest_to(lower), least_from(upper)};
            stops = lower;
            stops.insert(stops.end(), upper.begin(), upper.end());
        }
    }
    found.pass_as_ratio = found.stop_as_ratio = false;
    found.pass_ripple_db = std::ranges::min_element(all.pass, {}, &Range::db)->db;
    found.stop_attenuation_db = std::ranges::max_element(stops, {}, &Range::db)->db;
    return found;
}

std::vector<RequirementSpec> requirements_of(const Tolerances& t, Band band, const Axis& axis) {
    const double ripple = pass_ripple_db_of(t), down = stop_attenuation_db_of(t);
    const auto& [p1, p2] = t.pass_edges_hz;
    const auto& [s1, s2] = t.stop_edges_hz;
    const double end = axis.end_hz();
    switch (band) {
    case Band::low_pass:
        return {RippleRequirement{0, p1, ripple}, AttenuationRequirement{s1, end, down}};
    case Band::high_pass:
        return {RippleRequirement{p1, end, ripple}, AttenuationRequirement{0, s1, down}};
    case Band::band_pass:
        return {RippleRequirement{p1, p2, ripple}, AttenuationRequirement{0, s1, down},
                AttenuationRequirement{s2, end, down}};
    case Band::band_stop:
        break;
    }
    return {RippleRequirement{0, p1, ripple}, RippleRequirement{p2, end, ripple},
            AttenuationRequirement{s1, s2, down}};
}

} // namespace syntonon
