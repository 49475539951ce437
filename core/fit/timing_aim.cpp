// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/timing_aim.h"

#include "core/base/units.h"
#include "core/curve/level_means.h"
#include "core/curve/phase_parts.h"
#include "core/fit/seen_timing.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// The phase of the one stable filter with a stable inverse that has the aim's gain.
std::vector<double> own_phase_deg(const CorrectionAim& aim, double sample_rate_hz) {
    constexpr double an_octave = 24, lowest_hz = 4;
    Curve gain;
    for (double hz = lowest_hz; hz < sample_rate_hz / 2; hz *= std::exp2(1 / an_octave)) {
        gain.frequency_hz.push_back(hz);
    }
    gain.frequency_hz.insert(gain.frequency_hz.end(), aim.hz.begin(), aim.hz.end());
    std::ranges::sort(gain.frequency_hz);
    gain.frequency_hz.erase(std::unique(gain.frequency_hz.begin(), gain.frequency_hz.end()),
                            gain.frequency_hz.end());
    for (const double hz : gain.frequency_hz) {
        gain.magnitude_db.push_back(wanted_gain_db(aim, hz));
    }
    const auto minimum = minimum_phase_deg(gain.frequency_hz, gain.magnitude_db, sample_rate_hz);
    std::vector<double> phase;
    for (const double hz : aim.hz) {
        phase.push_back(at_hz(gain.frequency_hz, minimum, hz));
    }
    return phase;
}

Expected<TimingAim> timing_of_excess(const CorrectionSpec& spec, const Brief& brief,
                                     const CorrectionAim& aim) {
    const auto seen = seen_timing(brief, spec.from_hz, spec.to_hz);
    if (!seen) {
        return tl::unexpected(within("match", seen.error()));
    }
    TimingAim timing;
    timing.up_to_a_delay = true;
    const std::vector<double> own = own_phase_deg(aim, brief.sample_rate_hz);
    const LevelMeans excess(seen->curve.frequency_hz, seen->excess_deg);
    const LevelMeans agreed(brief.seen.timing->frequency_hz, brief.seen.timing->level_db);
    const LevelMeans all(brief.seen.as_one->frequency_hz, brief.seen.as_one->level_db);
    for (std::size_t i = 0; i < aim.size(); ++i) {
        const double hz = aim.hz[i];
        timing.phase_rad.push_back(rad_from_deg(own[i] - excess.over(hz, spec.smoothing_oct)));
        const double share_db =
            agreed.over(hz, spec.smoothing_oct) - all.over(hz, spec.smoothing_oct);
        timing.weight.push_back(aim.weight[i] * power_from_db(std::min(0.0, share_db)));
    }
    return timing;
}

// The value of a line at each place; the weight is 0 where there is none.
void read_lines(const std::vector<WishedLine>& lines, const CorrectionAim& aim,
                std::vector<double>& values, std::vector<double>& weight) {
    for (std::size_t i = 0; i < aim.size(); ++i) {
        const auto line = std::ranges::find_if(lines, [&](const WishedLine& l) {
            return aim.hz[i] >= l.frequency_hz.front() && aim.hz[i] <= l.frequency_hz.back();
        });
        const bool is_there = line != lines.end();
        values.push_back(is_there ? at_hz(line->frequency_hz, line->value, aim.hz[i]) : 0);
        weight.push_back(is_there ? (aim.weight[i] > 0 ? aim.weight[i] : 1) : 0);
    }
}

TimingAim timing_of_phases(const std::vector<WishedLine>& lines, const Response& above,
                           const CorrectionAim& aim) {
    TimingAim timing;
    read_lines(lines, aim, timing.phase_rad, timing.weight);
    for (std::size_t i = 0; i < aim.size(); ++i) {
        timing.phase_rad[i] = rad_from_deg(timing.phase_rad[i]) - above.phase_rad[i];
    }
    return timing;
}

// Group delay is minus the phase's slope by angular frequency.
TimingAim timing_of_delays(const std::vector<WishedLine>& lines, const Response& above,
                           const CorrectionAim& aim) {
    TimingAim timing;
    std::vector<double> delay_ms;
    read_lines(lines, aim, delay_ms, timing.weight);
    timing.phase_rad.assign(aim.size(), 0.0);
    for (std::size_t i = 1; i < aim.size(); ++i) {
        const double mean_s = (delay_ms[i - 1] + delay_ms[i]) / 2e3;
        timing.phase_rad[i] =
            timing.phase_rad[i - 1] - 2 * pi * (aim.hz[i] - aim.hz[i - 1]) * mean_s;
    }
    for (std::size_t i = 0; i < aim.size(); ++i) {
        timing.phase_rad[i] -= above.phase_rad[i];
    }
    return timing;
}

} // namespace

Expected<TimingAim> timing_aim(const CorrectionSpec& spec, const Brief& brief,
                               const CorrectionAim& aim) {
    const auto* wished = brief.wished_timing.get();
    const auto grid = *FrequencyGrid::from_frequencies(aim.hz, brief.axis());
    const bool by_delay = std::get<SectionsCorrection>(spec.method).match == CorrectionMatch::delay;
    std::optional<TimingAim> stated;
    if (wished != nullptr && by_delay && !wished->group_delay_ms.empty()) {
        stated = timing_of_delays(wished->group_delay_ms, brief.above.response(grid), aim);
    } else if (wished != nullptr && !by_delay && !wished->phase_deg.empty()) {
        stated = timing_of_phases(wished->phase_deg, brief.above.response(grid), aim);
    }
    if (!stated) {
        return timing_of_excess(spec, brief, aim);
    }
    if (std::ranges::all_of(stated->weight, [](double w) { return w == 0; })) {
        return refuse("match", "the goal's target of it lies outside of the range",
                      "choose a range where it has one");
    }
    return *stated;
}

} // namespace syntonon
