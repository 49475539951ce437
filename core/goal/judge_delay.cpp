// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/goal/judge_requirement.h"
#include "core/goal/judging.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Measure delays(const Prediction& prediction) {
    return {[&prediction](double hz) { return prediction.group_delay_samples_at(hz); },
            &Prediction::group_delays_samples};
}

Measure phases(const Prediction& prediction) {
    return {[&prediction](double hz) { return prediction.phase_deg_at(hz); },
            &Prediction::phases_deg};
}

std::string silent_text(const char* what) {
    return fmt::format("the level vanishes in the whole range, so there is no {} to judge; change "
                       "the chain or the range",
                       what);
}

// A quantity that must stay near a number or near a target.
struct Band {
    double from_hz, to_hz, tolerance;
    const std::optional<TargetCurve>& target;
    std::optional<double> value; // else the target counts
    double target_unit;          // the target's unit in the quantity's
    const char* name;
    double (*folded)(double); // brings a difference into its range
    const char* unit;
};

// The worst so far: how far the quantity is off what is wanted there.
struct Worst {
    double hz = 0, wanted = 0, off = 0, excess = -infinity;
};

// A part of the band, with what is wanted in it.
class PartOfBand {
public:
    PartOfBand(const Band& band, const TargetCurve& target, const TargetCurve::Part& part)
        : band_(band), target_(target), part_(part), unit_(band.value ? 1 : band.target_unit) {}

    double wanted(double hz) const { return unit_ * target_.value_in(part_, hz); }
    double off(double hz, double value) const { return band_.folded(value - wanted(hz)); }
    // -infinity where there is no value.
    double excess(double hz, double value) const {
        const double d = off(hz, value);
        return std::isnan(d) ? -infinity : std::abs(d) - band_.tolerance;
    }
    void take_worse(Worst& worst, double hz, double value) const {
        const double d = off(hz, value);
        if (std::abs(d) - band_.tolerance > worst.excess) {
            worst = {hz, wanted(hz), d, std::abs(d) - band_.tolerance};
        }
    }

private:
    const Band& band_;
    const TargetCurve& target_;
    const TargetCurve::Part& part_;
    double unit_;
};

// Where the level vanishes there is no phase but two limits; those count that lie within the range.
void take_limits_at_zeros(Worst& worst, const PartOfBand& part, Sampled& s, const Case& c) {
    const auto grid = *FrequencyGrid::from_frequencies(s.hz, c.prediction.axis());
    const auto levels =
        Prediction(c.prediction.chain(), nullptr, c.prediction.axis()).levels_db(grid);
    for (std::size_t i = 0; i < s.hz.size(); ++i) {
        if (levels[i] > -infinity) {
            continue;
        }
        s.values[i] = std::numeric_limits<double>::quiet_NaN();
        if (i > 0) {
            part.take_worse(worst, s.hz[i], c.prediction.phase_deg_at(s.hz[i], Side::below));
        }
        if (i + 1 < s.hz.size()) {
            part.take_worse(worst, s.hz[i], c.prediction.phase_deg_at(s.hz[i], Side::above));
        }
    }
}

Finding judge_band(const Band& band, const Measure& quantity, const Case& c, bool has_limits) {
    if (const auto why = beyond_end(band.to_hz, c.prediction.axis()); !why.empty()) {
        return undecided(c.title, why);
    }
    if (const auto why = too_fine_in(band.from_hz, band.to_hz, c.prediction); !why.empty()) {
        return undecided(c.title, why);
    }
    if (!band.value && !band.target) {
        return undecided(c.title, fmt::format("neither a value is given nor has the goal a {} "
                                              "target; give one of them",
                                              band.name));
    }
    TargetLine level;
    level.points = {{1, band.value.value_or(0), {}}};
    const TargetCurve target = band.value ? TargetCurve(level) : *band.target;
    const auto parts = target.parts(band.from_hz, band.to_hz);
    if (parts.empty()) {
        return undecided(c.title, fmt::format("the {} target has a gap in the whole range; draw it "
                                              "there, give a value or remove the requirement",
                                              band.name));
    }
    Worst worst;
    for (const TargetCurve::Part& each : parts) {
        const PartOfBand part(band, target, each);
        Sampled s = sampled(each.from_hz, each.to_hz, c.prediction, quantity, each.corners_hz);
        if (has_limits) {
            take_limits_at_zeros(worst, part, s, c);
        }
        const Extremum found =
            highest(mapped(s, [&](double hz, double value) { return part.excess(hz, value); }));
        if (found.value > worst.excess) {
            part.take_worse(worst, found.hz, quantity.at(found.hz));
        }
    }
    if (worst.excess == -infinity) {
        return undecided(c.title, silent_text(band.name));
    }
    return judged(c.title, band.unit, worst.wanted + worst.off,
                  worst.wanted + (worst.off >= 0 ? 1 : -1) * band.tolerance, -worst.excess,
                  worst.hz);
}

double as_it_is(double off) {
    return off;
}

} // namespace

Finding judge(const GroupDelayRequirement& r, const Case& c) {
    const Band band{r.from_hz,
                    r.to_hz,
                    samples_of(r.tolerance, c.rate()),
                    c.goal.group_delay_ms,
                    r.value ? std::optional(samples_of(*r.value, c.rate())) : std::nullopt,
                    samples_of({1, TimeUnit::ms}, c.rate()),
                    "delay",
                    as_it_is,
                    "samples"};
    Finding finding = judge_band(band, delays(c.prediction), c, false);
    in_time_unit(finding, r.tolerance.unit, c.rate());
    return finding;
}

Finding judge(const DelayVariationRequirement& r, const Case& c) {
    if (const auto why = beyond_end(r.to_hz, c.prediction.axis()); !why.empty()) {
        return undecided(c.title, why);
    }
    if (const auto why = too_fine_in(r.from_hz, r.to_hz, c.prediction); !why.empty()) {
        return undecided(c.title, why);
    }
    const auto delay_or = [](double otherwise) {
        return [otherwise](double, double delay) { return std::isnan(delay) ? otherwise : delay; };
    };
    const Sampled delay = sampled(r.from_hz, r.to_hz, c.prediction, delays(c.prediction));
    const Extremum high = highest(mapped(delay, delay_or(-infinity)));
    const Extremum low = lowest(mapped(delay, delay_or(infinity)));
    if (high.value == -infinity) {
        return undecided(c.title, silent_text("delay"));
    }
    const double variation = high.value - low.value, limit = samples_of(r.max, c.rate());
    Finding finding = judged(c.title, "samples", variation, limit, limit - variation, high.hz);
    in_time_unit(finding, r.max.unit, c.rate());
    return finding;
}

Finding judge(const PhaseRequirement& r, const Case& c) {
    const Band band{r.from_hz,        r.to_hz,     r.tolerance_deg,
                    c.goal.phase_deg, r.value_deg, 1,
                    "phase",          wrapped_deg, "°"};
    return judge_band(band, phases(c.prediction), c, true);
}

} // namespace syntonon
