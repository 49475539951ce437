// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/judge_requirement.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/goal/corridor.h"
#include "core/goal/extremum.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace syntonon {
namespace {

constexpr double infinity = std::numeric_limits<double>::infinity();

// A quantity on the telling frequencies of a range, and between them.
struct Sampled {
    Function f;
    std::vector<double> hz, values;
};

Sampled sampled(double from_hz, double to_hz, const Prediction& prediction, Function f) {
    Sampled s{std::move(f), prediction.telling_frequencies(from_hz, to_hz), {}};
    for (const double hz : s.hz) {
        s.values.push_back(s.f(hz));
    }
    return s;
}

Extremum highest(const Sampled& s) {
    return greatest(s.f, s.hz, s.values);
}

Extremum lowest(const Sampled& s) {
    std::vector<double> turned(s.values.size());
    std::ranges::transform(s.values, turned.begin(), std::negate<>());
    Extremum found = greatest([&](double hz) { return -s.f(hz); }, s.hz, turned);
    found.value = -found.value;
    return found;
}

std::optional<double> finite(double value) {
    return std::isfinite(value) ? std::optional(value) : std::nullopt;
}

// A finding whose margin is `room`; numbers that do not exist are left out, but still judged.
Finding judged(std::string title, const char* unit, double value, double limit, double room,
               std::optional<double> worst_hz = std::nullopt) {
    Finding finding;
    finding.requirement = std::move(title);
    finding.unit = unit;
    finding.value = finite(value);
    finding.limit = finite(limit);
    finding.margin = finite(room);
    finding.worst_hz = worst_hz;
    finding.outcome = room >= 0 ? Outcome::met : Outcome::not_met; // NaN is not met
    return finding;
}

class Judge {
public:
    Judge(std::string title, const Prediction& prediction)
        : title_(std::move(title)), prediction_(prediction) {}

    Finding operator()(const RippleRequirement& r) const {
        if (const auto why = obstacle_in(r.from_hz, r.to_hz, prediction_); !why.empty()) {
            return undecided(title_, why);
        }
        const Sampled level = levels(r.from_hz, r.to_hz);
        const Extremum high = highest(level), low = lowest(level);
        const double ripple = high.value - low.value;
        // Both ends make the ripple; the finding points at the upper one.
        return judged(title_, "dB", ripple, r.max_db, r.max_db - ripple, high.hz);
    }
    Finding operator()(const AttenuationRequirement& r) const {
        if (const auto why = obstacle_in(r.from_hz, r.to_hz, prediction_); !why.empty()) {
            return undecided(title_, why);
        }
        const Extremum high = highest(levels(r.from_hz, r.to_hz));
        // A chain that lets nothing through at all is as far down as one could wish.
        const bool silent = high.value == -infinity;
        Finding finding =
            judged(title_, "dB", -high.value, r.min_db, -high.value - r.min_db, high.hz);
        finding.outcome = silent ? Outcome::met : finding.outcome;
        return finding;
    }
    Finding operator()(const LevelRequirement& r) const {
        if (const auto why = obstacle_in(r.at_hz, r.at_hz, prediction_); !why.empty()) {
            return undecided(title_, why);
        }
        const double level = prediction_.level_db_at(r.at_hz);
        const double below = r.max_db ? *r.max_db - level : infinity;
        const double above = r.min_db ? level - *r.min_db : infinity;
        const bool upper_is_nearer = below <= above;
        return judged(title_, "dB", level, upper_is_nearer ? *r.max_db : *r.min_db,
                      std::min(below, above), r.at_hz);
    }
    Finding operator()(const CrossingRequirement& r) const {
        if (const auto why = obstacle_in(r.min_hz, r.max_hz, prediction_); !why.empty()) {
            return undecided(title_, why);
        }
        const auto found = nearest_crossing(r);
        if (!found) {
            return undecided(title_, fmt::format("the level never passes {:.4g} dB; change the "
                                                 "chain or the level",
                                                 r.level_db));
        }
        const double room = std::min(*found - r.min_hz, r.max_hz - *found);
        const bool lower_is_nearer = *found - r.min_hz <= r.max_hz - *found;
        return judged(title_, "Hz", *found, lower_is_nearer ? r.min_hz : r.max_hz, room, *found);
    }
    Finding operator()(const GroupDelayRequirement& r) const {
        const double half = nyquist_hz(prediction_.sample_rate_hz());
        if (r.to_hz > half) {
            return undecided(title_, beyond_text(half));
        }
        const auto excess = [&](double hz) {
            // Where the level vanishes there is no delay to judge.
            const double delay = prediction_.group_delay_samples_at(hz);
            return std::isnan(delay) ? -infinity
                                     : std::abs(delay - r.value_samples) - r.tolerance_samples;
        };
        const Extremum worst = highest(sampled(r.from_hz, r.to_hz, prediction_, excess));
        if (worst.value == -infinity) {
            return undecided(title_, "the level vanishes in the whole range, so there is no delay "
                                     "to judge; change the chain or the range");
        }
        const double delay = prediction_.group_delay_samples_at(worst.hz);
        const double limit =
            r.value_samples + (delay >= r.value_samples ? 1 : -1) * r.tolerance_samples;
        return judged(title_, "samples", delay, limit, -worst.value, worst.hz);
    }
    Finding operator()(const PeakGainRequirement& r) const {
        const double half = nyquist_hz(prediction_.sample_rate_hz());
        const Prediction alone(prediction_.chain(), nullptr, prediction_.sample_rate_hz());
        const Extremum high =
            highest(sampled(0, half, alone, [&](double hz) { return alone.level_db_at(hz); }));
        Finding finding =
            judged(title_, "dB", high.value, r.max_db, r.max_db - high.value, high.hz);
        finding.outcome = high.value == -infinity ? Outcome::met : finding.outcome;
        return finding;
    }
    Finding operator()(const LatencyRequirement& r) const {
        double samples = 0;
        for (const Filter& filter : prediction_.chain()) {
            samples += filter.latency_samples();
        }
        return judged(title_, "samples", samples, r.max_samples, r.max_samples - samples);
    }
    Finding operator()(const StabilityRequirement& r) const {
        double margin = 1;
        for (const Filter& filter : prediction_.chain()) {
            margin = std::min(margin, filter.stability_margin());
        }
        return judged(title_, "", margin, r.min_margin, margin - r.min_margin);
    }
    Finding operator()(const SectionsRequirement& r) const {
        double sections = 0;
        for (const Filter& filter : prediction_.chain()) {
            sections += filter.cost().sections;
        }
        return judged(title_, "", sections, r.max_sections, r.max_sections - sections);
    }
    Finding operator()(const UnknownRequirement& r) const {
        return undecided(title_,
                         fmt::format("this version does not know the requirement “{}”; use a "
                                     "newer one",
                                     r.its_kind));
    }

    static std::string beyond_text(double half_hz) {
        return fmt::format("the range ends above half the sample rate ({}); lower its end",
                           frequency_text(half_hz, 4));
    }

private:
    Sampled levels(double from_hz, double to_hz) const {
        return sampled(from_hz, to_hz, prediction_,
                       [this](double hz) { return prediction_.level_db_at(hz); });
    }

    // Bisection between neighbours on different sides of the level.
    double crossing_between(double low, double high, double level) const {
        const bool starts_above = prediction_.level_db_at(low) > level;
        for (int step = 0; step < 100 && high - low > 1e-12 * high; ++step) {
            const double middle = (low + high) / 2;
            ((prediction_.level_db_at(middle) > level) == starts_above ? low : high) = middle;
        }
        return (low + high) / 2;
    }

    std::optional<double> nearest_crossing(const CrossingRequirement& r) const {
        const Sampled level = levels(prediction_.low_hz(), prediction_.high_hz());
        const auto distance = [&](double hz) {
            return std::max({r.min_hz - hz, hz - r.max_hz, 0.0});
        };
        std::optional<double> best;
        for (std::size_t i = 1; i < level.hz.size(); ++i) {
            if ((level.values[i - 1] > r.level_db) == (level.values[i] > r.level_db)) {
                continue;
            }
            const double hz = crossing_between(level.hz[i - 1], level.hz[i], r.level_db);
            const double middle = (r.min_hz + r.max_hz) / 2;
            const bool nearer = !best || distance(hz) < distance(*best)
                                || (distance(hz) == distance(*best)
                                    && std::abs(hz - middle) < std::abs(*best - middle));
            best = nearer ? hz : *best;
        }
        return best;
    }

    std::string title_;
    const Prediction& prediction_;
};

} // namespace

std::string obstacle_in(double from_hz, double to_hz, const Prediction& prediction) {
    const double half = nyquist_hz(prediction.sample_rate_hz());
    if (to_hz > half) {
        return Judge::beyond_text(half);
    }
    if (from_hz < prediction.low_hz() || to_hz > prediction.high_hz()) {
        return fmt::format("the measured curve covers only {}; narrow the range or import more",
                           range_text(prediction.low_hz(), prediction.high_hz()));
    }
    return {};
}

Finding judge_requirement(const Requirement& requirement, const Prediction& prediction) {
    if (const auto ok = check(requirement); !ok) {
        return undecided(title_of(requirement), to_text(ok.error()));
    }
    return std::visit(Judge(title_of(requirement), prediction), requirement.spec);
}

} // namespace syntonon
