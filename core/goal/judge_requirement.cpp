// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/judge_requirement.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/goal/corridor.h"
#include "core/goal/extremum.h"
#include "core/goal/time_answer.h"

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

// A quantity of the prediction: at one frequency, and on a grid, where it is quicker to ask.
struct Measure {
    Function at;
    std::vector<double> (Prediction::*on_grid)(const FrequencyGrid&) const;
};

// What `made` makes of the quantity's value at a frequency, sampled.
template <class Make>
Sampled sampled(double from_hz, double to_hz, const Prediction& prediction, const Measure& measure,
                Make made, const std::vector<double>& corners_hz = {}) {
    Sampled s{[at = measure.at, made](double hz) { return made(hz, at(hz)); },
              prediction.telling_frequencies(from_hz, to_hz),
              {}};
    s.hz.insert(s.hz.end(), corners_hz.begin(), corners_hz.end());
    std::ranges::sort(s.hz);
    s.hz.erase(std::unique(s.hz.begin(), s.hz.end()), s.hz.end());
    // They lie between 0 and Nyquist, so there is always a grid.
    const auto grid = *FrequencyGrid::from_frequencies(s.hz, prediction.sample_rate_hz());
    s.values = (prediction.*measure.on_grid)(grid);
    for (std::size_t i = 0; i < s.hz.size(); ++i) {
        s.values[i] = made(s.hz[i], s.values[i]);
    }
    return s;
}

double as_it_is(double, double value) {
    return value;
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
    Judge(std::string title, const WorkedGoal& goal, const Prediction& prediction)
        : title_(std::move(title)), goal_(goal), prediction_(prediction) {}

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
    Finding operator()(const TransitionWidthRequirement& r) const {
        if (const auto why = obstacle_in(r.from_hz, r.to_hz, prediction_); !why.empty()) {
            return undecided(title_, why);
        }
        const auto widest = widest_transition(r);
        if (!widest) {
            return undecided(title_,
                             fmt::format("the level does not go from {:.4g} dB to {:.4g} dB in the "
                                         "range; change the chain, the levels or the range",
                                         r.pass_db, r.stop_db));
        }
        const double width = widest->second - widest->first;
        return judged(title_, "Hz", width, r.max_hz, r.max_hz - width,
                      std::sqrt(widest->first * widest->second));
    }
    Finding operator()(const GroupDelayRequirement& r) const {
        const Band band{r.from_hz,
                        r.to_hz,
                        samples_of(r.tolerance, rate()),
                        goal_.group_delay_ms,
                        r.value ? std::optional(samples_of(*r.value, rate())) : std::nullopt,
                        samples_of({1, TimeUnit::ms}, rate())};
        Finding finding = judge_band(band, "delay", delays(), [](double off) { return off; });
        in_time_unit(finding, r.tolerance.unit);
        return finding;
    }
    Finding operator()(const DelayVariationRequirement& r) const {
        if (r.to_hz > half()) {
            return undecided(title_, beyond_text(half()));
        }
        const auto delay_or = [](double otherwise) {
            return
                [otherwise](double, double delay) { return std::isnan(delay) ? otherwise : delay; };
        };
        const Extremum high =
            highest(sampled(r.from_hz, r.to_hz, prediction_, delays(), delay_or(-infinity)));
        const Extremum low =
            lowest(sampled(r.from_hz, r.to_hz, prediction_, delays(), delay_or(infinity)));
        if (high.value == -infinity) {
            return undecided(title_, silent_text("delay"));
        }
        const double variation = high.value - low.value, limit = samples_of(r.max, rate());
        Finding finding = judged(title_, "samples", variation, limit, limit - variation, high.hz);
        in_time_unit(finding, r.max.unit);
        return finding;
    }
    Finding operator()(const PhaseRequirement& r) const {
        const Band band{r.from_hz, r.to_hz, r.tolerance_deg, goal_.phase_deg, r.value_deg, 1};
        Finding finding = judge_band(
            band, "phase",
            {[this](double hz) { return prediction_.phase_deg_at(hz); }, &Prediction::phases_deg},
            wrapped_deg);
        if (finding.outcome != Outcome::undecided) {
            finding.unit = "°";
        }
        return finding;
    }
    Finding operator()(const PeakGainRequirement& r) const {
        const double half = nyquist_hz(prediction_.sample_rate_hz());
        const Prediction alone(prediction_.chain(), nullptr, prediction_.sample_rate_hz());
        const Extremum high = highest(sampled(
            0, half, alone,
            {[&](double hz) { return alone.level_db_at(hz); }, &Prediction::levels_db}, as_it_is));
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
        return judged_time(samples, r.max);
    }
    Finding operator()(const PreRingingRequirement& r) const {
        return on_impulse([&](const std::vector<double>& impulse) {
            const double energy = pre_ringing_db(impulse);
            Finding finding = judged(title_, "dB", energy, r.max_db, r.max_db - energy);
            finding.outcome = energy <= r.max_db ? Outcome::met : Outcome::not_met;
            return finding;
        });
    }
    Finding operator()(const PreRingingTimeRequirement& r) const {
        return on_impulse([&](const std::vector<double>& impulse) {
            return judged_time(pre_ringing_samples(impulse, r.threshold_db), r.max);
        });
    }
    Finding operator()(const SettlingTimeRequirement& r) const {
        return on_impulse([&](const std::vector<double>& impulse) {
            return judged_time(settling_samples(impulse, r.within_percent / 100), r.max);
        });
    }
    Finding operator()(const OvershootRequirement& r) const {
        return on_impulse([&](const std::vector<double>& impulse) {
            const auto found = overshoot(impulse);
            if (!found) {
                return undecided(title_, "the step response ends at 0, so nothing can go beyond "
                                         "it; remove the requirement or let 0 Hz pass");
            }
            const double percent = 100 * *found;
            return judged(title_, "%", percent, r.max_percent, r.max_percent - percent);
        });
    }
    Finding operator()(const DecayTimeRequirement& r) const {
        double radius = 0;
        for (const Filter& filter : prediction_.chain()) {
            radius = std::max(radius, slowest_radius(filter.roots()));
        }
        return judged_time(decay_samples(radius, r.fall_db), r.max);
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
    Finding operator()(const TapsRequirement& r) const {
        double taps = 0;
        for (const Filter& filter : prediction_.chain()) {
            taps += filter.cost().taps;
        }
        return judged(title_, "", taps, r.max_taps, r.max_taps - taps);
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
    double rate() const { return prediction_.sample_rate_hz(); }
    double half() const { return nyquist_hz(rate()); }
    Measure delays() const {
        return {[this](double hz) { return prediction_.group_delay_samples_at(hz); },
                &Prediction::group_delays_samples};
    }

    static std::string silent_text(const char* what) {
        return fmt::format("the level vanishes in the whole range, so there is no {} to judge; "
                           "change the chain or the range",
                           what);
    }

    // A time that was found, in samples; the finding is in the requirement's unit.
    Finding judged_time(double samples, const Duration& limit) const {
        const double most = samples_of(limit, rate());
        Finding finding = judged(title_, "samples", samples, most, most - samples);
        in_time_unit(finding, limit.unit);
        return finding;
    }
    void in_time_unit(Finding& finding, TimeUnit unit) const {
        if (finding.outcome == Outcome::undecided) {
            return;
        }
        finding.unit = key_of(unit);
        for (auto* number : {&finding.value, &finding.limit, &finding.margin}) {
            if (*number) {
                **number = from_samples(**number, unit, rate());
            }
        }
    }

    template <class Use>
    Finding on_impulse(Use use) const {
        const auto& impulse = prediction_.impulse();
        return impulse ? use(*impulse) : undecided(title_, to_text(impulse.error()));
    }

    // A quantity that must stay near a number or near a target.
    struct Band {
        double from_hz, to_hz, tolerance;
        const std::optional<TargetCurve>& target;
        std::optional<double> value; // else the target counts
        double target_unit;          // the target's unit in the quantity's
    };

    // The quantity is NaN where there is none; `folded` brings a difference into its range.
    template <class Fold>
    Finding judge_band(const Band& band, const char* name, const Measure& quantity,
                       Fold folded) const {
        if (band.to_hz > half()) {
            return undecided(title_, beyond_text(half()));
        }
        if (!band.value && !band.target) {
            return undecided(title_, fmt::format("neither a value is given nor has the goal a {} "
                                                 "target; give one of them",
                                                 name));
        }
        TargetLine level;
        level.points = {{1, band.value.value_or(0), {}}};
        const TargetCurve target = band.value ? TargetCurve(level) : *band.target;
        const double unit = band.value ? 1 : band.target_unit;
        Finding finding;
        for (const TargetCurve::Part& part : target.parts(band.from_hz, band.to_hz)) {
            const auto difference = [&](double hz, double value) {
                return folded(value - unit * target.value_in(part, hz));
            };
            const auto excess = [&](double hz, double value) {
                const double d = difference(hz, value);
                return std::isnan(d) ? -infinity : std::abs(d) - band.tolerance;
            };
            const Extremum worst = highest(
                sampled(part.from_hz, part.to_hz, prediction_, quantity, excess, part.corners_hz));
            if (worst.value > -infinity && (!finding.margin || -worst.value < *finding.margin)) {
                const double centre = unit * target.value_in(part, worst.hz);
                const double off = difference(worst.hz, quantity.at(worst.hz));
                finding =
                    judged(title_, "samples", centre + off,
                           centre + (off >= 0 ? 1 : -1) * band.tolerance, -worst.value, worst.hz);
            }
        }
        return finding.margin ? finding : undecided(title_, silent_text(name));
    }

    Sampled levels(double from_hz, double to_hz) const {
        return sampled(
            from_hz, to_hz, prediction_,
            {[this](double hz) { return prediction_.level_db_at(hz); }, &Prediction::levels_db},
            as_it_is);
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

    // Where the level passes `level` among the sampled frequencies, ascending.
    std::vector<double> crossings(const Sampled& s, double level) const {
        std::vector<double> found;
        for (std::size_t i = 1; i < s.hz.size(); ++i) {
            if ((s.values[i - 1] > level) != (s.values[i] > level)) {
                found.push_back(crossing_between(s.hz[i - 1], s.hz[i], level));
            }
        }
        return found;
    }

    std::optional<double> nearest_crossing(const CrossingRequirement& r) const {
        const auto distance = [&](double hz) {
            return std::max({r.min_hz - hz, hz - r.max_hz, 0.0});
        };
        const double middle = (r.min_hz + r.max_hz) / 2;
        std::optional<double> best;
        for (const double hz :
             crossings(levels(prediction_.low_hz(), prediction_.high_hz()), r.level_db)) {
            const bool nearer = !best || distance(hz) < distance(*best)
                                || (distance(hz) == distance(*best)
                                    && std::abs(hz - middle) < std::abs(*best - middle));
            best = nearer ? hz : *best;
        }
        return best;
    }

    // Neighbouring passages of both levels with no other passage between them.
    std::optional<std::pair<double, double>>
    widest_transition(const TransitionWidthRequirement& r) const {
        const Sampled level = levels(r.from_hz, r.to_hz);
        std::vector<std::pair<double, bool>> passages;
        for (const double hz : crossings(level, r.pass_db)) {
            passages.emplace_back(hz, true);
        }
        for (const double hz : crossings(level, r.stop_db)) {
            passages.emplace_back(hz, false);
        }
        std::ranges::sort(passages);
        std::optional<std::pair<double, double>> widest;
        for (std::size_t i = 1; i < passages.size(); ++i) {
            const double low = passages[i - 1].first, high = passages[i].first;
            if (passages[i - 1].second != passages[i].second
                && (!widest || high - low > widest->second - widest->first)) {
                widest = {low, high};
            }
        }
        return widest;
    }

    std::string title_;
    const WorkedGoal& goal_;
    const Prediction& prediction_;
};

Quantity quantity_of(const RequirementSpec& spec) {
    const auto is = [&]<class... Kinds>(std::variant<Kinds...>*) {
        return (std::holds_alternative<Kinds>(spec) || ...);
    };
    using Level =
        std::variant<RippleRequirement, AttenuationRequirement, LevelRequirement,
                     CrossingRequirement, TransitionWidthRequirement, PeakGainRequirement>;
    using Delay = std::variant<GroupDelayRequirement, DelayVariationRequirement>;
    return is(static_cast<Level*>(nullptr))                 ? Quantity::level
           : is(static_cast<Delay*>(nullptr))               ? Quantity::delay
           : std::holds_alternative<PhaseRequirement>(spec) ? Quantity::phase
                                                            : Quantity::other;
}

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

Finding judge_requirement(const Requirement& requirement, const WorkedGoal& goal,
                          const Prediction& prediction) {
    if (const auto ok = check(requirement); !ok) {
        return undecided(title_of(requirement), to_text(ok.error()));
    }
    Finding finding = std::visit(Judge(title_of(requirement), goal, prediction), requirement.spec);
    finding.quantity = quantity_of(requirement.spec);
    return finding;
}

} // namespace syntonon
