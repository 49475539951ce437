// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/judging.h"
#include "core/goal/time_answer.h"

namespace syntonon {
namespace {

template <class Use>
Finding on_impulse(const Case& c, Use use) {
    const auto& impulse = c.prediction.impulse();
    return impulse ? use(impulse->impulse) : undecided(c.title, to_text(impulse.error()));
}

// From the answer's samples to those of the channel's rate.
double at_rate(const Case& c, double samples) {
    return samples * c.rate() / c.prediction.impulse()->rate_hz;
}

} // namespace

Finding judge(const LatencyRequirement& r, const Case& c) {
    if (c.prediction.axis().is_analog()) {
        return undecided(c.title, "continuous time has no samples to wait for; ask for a group "
                                  "delay instead");
    }
    return judged_time(c, c.prediction.chain().latency_samples(), r.max);
}

Finding judge(const PreRingingRequirement& r, const Case& c) {
    return on_impulse(c, [&](const std::vector<double>& impulse) {
        const double energy = pre_ringing_db(impulse);
        Finding finding = judged(c.title, "dB", energy, r.max_db, r.max_db - energy);
        finding.outcome = energy <= r.max_db ? Outcome::met : Outcome::not_met;
        return finding;
    });
}

Finding judge(const PreRingingTimeRequirement& r, const Case& c) {
    return on_impulse(c, [&](const std::vector<double>& impulse) {
        return judged_time(c, at_rate(c, pre_ringing_samples(impulse, r.threshold_db)), r.max);
    });
}

Finding judge(const SettlingTimeRequirement& r, const Case& c) {
    return on_impulse(c, [&](const std::vector<double>& impulse) {
        return judged_time(c, at_rate(c, settling_samples(impulse, r.within_percent / 100)), r.max);
    });
}

Finding judge(const OvershootRequirement& r, const Case& c) {
    return on_impulse(c, [&](const std::vector<double>& impulse) {
        const auto found = overshoot(impulse);
        if (!found) {
            return undecided(c.title, "the step response ends at 0, so nothing can go beyond it; "
                                      "remove the requirement or let 0 Hz pass");
        }
        const double percent = 100 * *found;
        return judged(c.title, "%", percent, r.max_percent, r.max_percent - percent);
    });
}

Finding judge(const DecayTimeRequirement& r, const Case& c) {
    const auto slowest = c.prediction.chain().slowest_pole_radius(c.rate());
    return slowest ? judged_time(c, decay_samples(*slowest, r.fall_db), r.max)
                   : undecided(c.title, to_text(slowest.error()));
}

} // namespace syntonon
