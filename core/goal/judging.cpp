// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/judging.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <string_view>

namespace syntonon {
namespace {

std::optional<double> finite(double value) {
    return std::isfinite(value) ? std::optional(value) : std::nullopt;
}

} // namespace

Finding judged(std::string title, const char* unit, double value, double limit, double room,
               std::optional<double> worst_hz) {
    const double tolerated = std::string_view(unit) == "dB" ? -rounding_db : 0;
    room = room >= tolerated && room < 0 ? 0 : room;
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

Finding judged_time(const Case& c, double samples, const Duration& limit) {
    const double most = samples_of(limit, c.rate());
    Finding finding = judged(c.title, "samples", samples, most, most - samples);
    in_time_unit(finding, limit.unit, c.rate());
    return finding;
}

void in_time_unit(Finding& finding, TimeUnit unit, double sample_rate_hz) {
    if (finding.outcome == Outcome::undecided) {
        return;
    }
    finding.unit = key_of(unit);
    for (auto* number : {&finding.value, &finding.limit, &finding.margin}) {
        if (*number) {
            **number = from_samples(**number, unit, sample_rate_hz);
        }
    }
}

std::string beyond_end(double to_hz, const Axis& axis) {
    const double end = axis.end_hz();
    return to_hz <= end ? std::string()
           : axis.is_analog()
               ? fmt::format("the range ends above {}; lower its end", frequency_text(end, 4))
               : fmt::format("the range ends above half the sample rate ({}); lower its end",
                             frequency_text(end, 4));
}

Measure level_measure(const Prediction& prediction) {
    return {[&prediction](double hz) { return prediction.level_db_at(hz); },
            &Prediction::levels_db};
}

Sampled sampled(double from_hz, double to_hz, const Prediction& prediction, const Measure& measure,
                const std::vector<double>& corners_hz) {
    Sampled s{measure.at, prediction.telling_frequencies(from_hz, to_hz), {}};
    s.hz.insert(s.hz.end(), corners_hz.begin(), corners_hz.end());
    std::ranges::sort(s.hz);
    s.hz.erase(std::unique(s.hz.begin(), s.hz.end()), s.hz.end());
    // They lie on the axis, so there is always a grid.
    const auto grid = *FrequencyGrid::from_frequencies(s.hz, prediction.axis());
    s.values = (prediction.*measure.on_grid)(grid);
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

} // namespace syntonon
