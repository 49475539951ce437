// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fitted_aim.h"

#include "core/base/number_text.h"
#include "core/curve/level_means.h"
#include "core/design/asked.h"
#include "core/filter/taps.h"
#include "core/fit/seen_timing.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::size_t place_count = 600;
constexpr double lowest_db = -200; // nobody can tell less

// What a first-order all-pass makes of an angle (A. Oppenheim, D. Johnson and K. Steiglitz,
// Computation of spectra with unequal resolution using the fast Fourier transform, Proc. IEEE 59,
// 1971, eq. 9). Its inverse has the other sign.
double warped_rad(double rad, double warping) {
    return rad + 2 * std::atan(warping * std::sin(rad) / (1 - warping * std::cos(rad)));
}

Expected<void> check_range(const FittedSpec& spec, const Brief& brief) {
    if (spec.to_hz >= brief.axis().end_hz()) {
        return refuse(
            "to_hz",
            fmt::format("{} is not below half the sample rate", frequency_text(spec.to_hz)),
            fmt::format("end below {}", frequency_text(brief.axis().end_hz())));
    }
    if (brief.seen.as_one == nullptr || spec.match == FittedMatch::delay
        || spec.match == FittedMatch::impulse || spec.match == FittedMatch::phase) {
        return {};
    }
    const double low = brief.seen.as_one->frequency_hz.front();
    const double high = brief.seen.as_one->frequency_hz.back();
    if (spec.from_hz < low || spec.to_hz > high) {
        const bool is_low = spec.from_hz < low;
        return refuse(
            is_low ? "from_hz" : "to_hz",
            fmt::format("{} was not measured", frequency_text(is_low ? spec.from_hz : spec.to_hz)),
            fmt::format("stay between {} and {}", frequency_text(low), frequency_text(high)));
    }
    return {};
}

// Whether anything is asked for in the range.
bool add_level(const Wished& wished, ResponseAim& response) {
    for (const double hz : response.hz) {
        const auto asked = asked_at(wished, hz);
        std::optional<double> level = asked ? asked->level_db : std::nullopt;
        if (asked && !level && asked->lower_db && asked->upper_db) {
            level = (*asked->lower_db + *asked->upper_db) / 2;
        }
        response.level_db.push_back(std::max(level.value_or(0), lowest_db));
        response.weight.push_back(level ? asked->weight : 0);
    }
    return std::ranges::any_of(response.weight, [](double weight) { return weight > 0; });
}

void take_off_what_is_seen(const Brief& brief, const Response& above, ResponseAim& response) {
    const auto& seen = brief.seen.as_one;
    for (std::size_t i = 0; i < response.size(); ++i) {
        response.level_db[i] -= std::max(above.magnitude_db[i], lowest_db);
        if (seen != nullptr) {
            response.level_db[i] -= at_hz(seen->frequency_hz, seen->level_db, response.hz[i]);
        }
    }
}

// The line that speaks of a frequency; null where none does.
const WishedLine* line_at(const std::vector<WishedLine>& lines, double hz) {
    const auto line = std::ranges::find_if(lines, [&](const WishedLine& l) {
        return hz >= l.frequency_hz.front() && hz <= l.frequency_hz.back();
    });
    return line != lines.end() ? &*line : nullptr;
}

tl::unexpected<Problem> nothing_stated(const char* what) {
    return refuse("match", fmt::format("no {} is stated in the range that could be matched", what),
                  "state a target of it, or match the level");
}

Expected<void> add_phase(const Brief& brief, const Response& above, ResponseAim& response) {
    const std::vector<WishedLine> none;
    const auto& lines = brief.wished_timing != nullptr ? brief.wished_timing->phase_deg : none;
    bool any = false;
    for (std::size_t i = 0; i < response.size(); ++i) {
        const auto* line = line_at(lines, response.hz[i]);
        if (line == nullptr) {
            response.weight[i] = 0;
        }
        const double deg =
            line != nullptr ? at_hz(line->frequency_hz, line->value, response.hz[i]) : 0;
        response.phase_rad.push_back(rad_from_deg(deg) - above.phase_rad[i]);
        any = any || response.weight[i] > 0;
    }
    return any ? Expected<void>() : nothing_stated("phase");
}

// The delay is counted in samples; what it comes to as a phase says whether it has changed.
Expected<DelayAim> delay_aim(const Brief& brief, const Response& above, ResponseAim& response) {
    const std::vector<WishedLine> none;
    const auto& lines = brief.wished_timing != nullptr ? brief.wished_timing->group_delay_ms : none;
    DelayAim aim;
    aim.up_to_a_delay = lines.empty();
    aim.hz = response.hz;
    for (std::size_t i = 0; i < aim.size(); ++i) {
        const auto* line = line_at(lines, aim.hz[i]);
        const double ms = line != nullptr ? at_hz(line->frequency_hz, line->value, aim.hz[i]) : 0;
        const double delay =
            above.group_delay_samples[i] - samples_from_seconds(1e-3 * ms, brief.sample_rate_hz);
        const bool counts = (lines.empty() || line != nullptr) && std::isfinite(delay);
        aim.weight.push_back(counts ? 1 : 0);
        aim.delay_samples.push_back(counts ? delay : 0); // none at a zero on the circle
    }
    response.level_db.assign(aim.size(), 0.0);
    response.weight = aim.weight;
    response.phase_rad = {0};
    for (std::size_t i = 1; i < aim.size(); ++i) {
        const double step_rad =
            rad_per_sample_from_hz(aim.hz[i] - aim.hz[i - 1], brief.sample_rate_hz);
        response.phase_rad.push_back(response.phase_rad.back()
                                     + step_rad * (aim.delay_samples[i] + aim.delay_samples[i - 1])
                                           / 2);
    }
    if (std::ranges::all_of(aim.weight, [](double weight) { return weight == 0; })) {
        return nothing_stated("group delay");
    }
    return aim;
}

// Its slope over frequency is what a delay would have to be.
Expected<DelayAim> phase_aim(const Brief& brief, const Response& above, ResponseAim& response) {
    response.level_db.assign(response.size(), 0.0);
    response.weight.assign(response.size(), 1.0);
    if (auto ok = add_phase(brief, above, response); !ok) {
        return tl::unexpected(ok.error());
    }
    DelayAim aim;
    aim.hz = response.hz;
    aim.weight = response.weight;
    aim.lag_rad = response.phase_rad;
    for (std::size_t i = 0; i < aim.size(); ++i) {
        const std::size_t a = i > 0 ? i - 1 : i, b = std::min(i + 1, aim.size() - 1);
        const double step_rad = rad_per_sample_from_hz(aim.hz[b] - aim.hz[a], brief.sample_rate_hz);
        const bool counts = aim.weight[a] > 0 && aim.weight[b] > 0;
        aim.delay_samples.push_back(counts ? (aim.lag_rad[b] - aim.lag_rad[a]) / step_rad : 0);
    }
    return aim;
}

double peak_of(const std::vector<double>& values) {
    double peak = 0;
    for (const double value : values) {
        peak = std::max(peak, std::abs(value));
    }
    return peak;
}

// Where the sound of a measured impulse response arrives: far enough below its peak for its rise,
// and above the noise before it.
std::size_t start_of_sound(const std::vector<double>& impulse) {
    const double least = peak_of(impulse) * ratio_from_db(-30);
    return static_cast<std::size_t>(
        std::ranges::find_if(impulse, [least](double value) { return std::abs(value) >= least; })
        - impulse.begin());
}

Expected<std::vector<double>> measured_impulse(const SampledImpulse& measured, const Brief& brief) {
    if (measured.sample_rate_hz != brief.sample_rate_hz) {
        return refuse("curve",
                      fmt::format("its impulse response was measured at {} Hz, the study works at "
                                  "{} Hz",
                                  measured.sample_rate_hz, brief.sample_rate_hz),
                      "measure it at the study's rate, or fit to its level instead");
    }
    return std::vector<double>(measured.values.begin()
                                   + static_cast<std::ptrdiff_t>(start_of_sound(measured.values)),
                               measured.values.end());
}

Expected<void> add_impulse(const FittedSpec& spec, const Brief& brief, FittedAim& aim) {
    const auto length = static_cast<std::size_t>(spec.length);
    if (brief.impulse != nullptr) {
        auto from = measured_impulse(*brief.impulse, brief);
        if (!from) {
            return tl::unexpected(from.error());
        }
        aim.impulse = *std::move(from);
    } else if (!brief.above.is_stable()) {
        return refuse("", "the stages above are unstable: they have no impulse response to model",
                      "make them stable first");
    } else {
        const auto first = static_cast<std::size_t>(brief.above.latency_samples());
        aim.impulse = brief.above.impulse_response(first + length);
        aim.impulse.erase(aim.impulse.begin(),
                          aim.impulse.begin() + static_cast<std::ptrdiff_t>(first));
        aim.impulse_delay = first;
    }
    aim.impulse.resize(length, 0.0);
    if (peak_of(aim.impulse) == 0) {
        return refuse(brief.impulse != nullptr ? "curve" : "length",
                      "the impulse response is silent over its samples that count",
                      "choose another one, or more samples");
    }
    const int needed = spec.order + zeros_wanted(spec) + 1;
    if (spec.length < needed) {
        return refuse("length",
                      fmt::format("{} samples are fewer than the {} numbers of the model",
                                  spec.length, needed),
                      "raise it, or lower the order");
    }
    return {};
}

// Its response is what errors are told of.
void add_response_of_impulse(const FrequencyGrid& grid, FittedAim& aim) {
    const Response response = Filter(Taps{aim.impulse}).response(grid);
    aim.response.weight.assign(aim.response.size(), 1.0);
    aim.response.phase_rad = response.phase_rad;
    for (std::size_t i = 0; i < aim.response.size(); ++i) {
        aim.response.level_db.push_back(std::max(response.magnitude_db[i], lowest_db));
        aim.response.phase_rad[i] -=
            rad_per_sample_from_hz(aim.response.hz[i], grid.axis().sample_rate_hz)
            * static_cast<double>(aim.impulse_delay);
    }
}

} // namespace

std::vector<double> places_on_axis(const FittedSpec& spec, double sample_rate_hz,
                                   std::size_t count) {
    const double warping = spec.axis == FittedAxis::warped ? spec.warping : 0;
    const auto bent = [&](double hz) {
        return spec.axis == FittedAxis::log_frequency
                   ? std::log(hz)
                   : warped_rad(rad_per_sample_from_hz(hz, sample_rate_hz), warping);
    };
    const auto straight = [&](double place) {
        return spec.axis == FittedAxis::log_frequency
                   ? std::exp(place)
                   : hz_from_rad_per_sample(warped_rad(place, -warping), sample_rate_hz);
    };
    const double low = bent(spec.from_hz), high = bent(spec.to_hz);
    std::vector<double> hz = {spec.from_hz};
    for (std::size_t i = 1; i + 1 < count; ++i) {
        hz.push_back(straight(
            std::lerp(low, high, static_cast<double>(i) / static_cast<double>(count - 1))));
    }
    hz.push_back(spec.to_hz);
    return hz;
}

Expected<FittedAim> fitted_aim(const FittedSpec& spec, const Brief& brief) {
    if (auto ok = check_sampled(brief, "a recursive fit is made in the z-plane"); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_settings(spec).and_then([&] { return check_range(spec, brief); }); !ok) {
        return tl::unexpected(ok.error());
    }
    FittedAim aim;
    ResponseAim& response = aim.response;
    response.hz = places_on_axis(spec, brief.sample_rate_hz, place_count);
    const auto grid = *FrequencyGrid::from_frequencies(response.hz, brief.axis());
    if (spec.match == FittedMatch::impulse) {
        if (auto ok = add_impulse(spec, brief, aim); !ok) {
            return tl::unexpected(ok.error());
        }
        add_response_of_impulse(grid, aim);
        return aim;
    }
    const Response above = brief.above.response(grid);
    if (spec.match == FittedMatch::delay) {
        auto delay = delay_aim(brief, above, response);
        if (!delay) {
            return tl::unexpected(delay.error());
        }
        aim.delay = *std::move(delay);
        return aim;
    }
    if (spec.match == FittedMatch::phase) {
        auto phase = phase_aim(brief, above, response);
        if (!phase) {
            return tl::unexpected(phase.error());
        }
        aim.delay = *std::move(phase);
        return aim;
    }
    if (brief.wished == nullptr) {
        return refuse("target",
                      "there is nothing to fit to: neither the stage nor the channel's goal states "
                      "a target",
                      "state one, or give the channel a goal");
    }
    if (!add_level(*brief.wished, response)) {
        return refuse("target",
                      fmt::format("nothing is asked between {} and {}",
                                  frequency_text(spec.from_hz), frequency_text(spec.to_hz)),
                      "choose a range where it has a target");
    }
    take_off_what_is_seen(brief, above, response);
    if (spec.match == FittedMatch::complex) {
        if (auto ok = add_phase(brief, above, response); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    return aim;
}

} // namespace syntonon
