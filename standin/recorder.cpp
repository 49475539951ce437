// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/recorder.h"

#include "core/base/units.h"
#include "core/math/fft.h"
#include "core/math/seeded.h"
#include "standin/between_samples.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

using Samples = std::vector<double>;

Samples distorted(std::span<const double> played, const RecorderPlan& plan) {
    Samples out;
    out.reserve(played.size());
    for (const double x : played) {
        out.push_back(x + plan.second_harmonic * x * x + plan.third_harmonic * x * x * x);
    }
    return out;
}

// As a clock has it that ticks `ratio` times as fast.
Samples at_clock(const Samples& samples, double ratio) {
    if (ratio == 1) {
        return samples;
    }
    Samples out(static_cast<std::size_t>(static_cast<double>(samples.size()) * ratio));
    for (std::size_t n = 0; n < out.size(); ++n) {
        const double at = static_cast<double>(n) / ratio;
        const auto middle = static_cast<std::ptrdiff_t>(std::floor(at));
        double sum = 0;
        std::ptrdiff_t k = middle - kernel_reach + 1;
        for (const double share : kernel_about(at - std::floor(at))) {
            if (k >= 0 && k < static_cast<std::ptrdiff_t>(samples.size())) {
                sum += samples[static_cast<std::size_t>(k)] * share;
            }
            ++k;
        }
        out[n] = sum;
    }
    return out;
}

double power_of(const Samples& heard, std::span<const double> played) {
    double power = 0;
    std::size_t counted = 0;
    for (std::size_t n = 0; n < played.size(); ++n) {
        if (played[n] != 0) {
            power += heard[n] * heard[n];
            ++counted;
        }
    }
    return counted > 0 ? power / static_cast<double>(counted) : 0;
}

void add_noise(double power, Seeded& random, Samples& samples) {
    const double size = std::sqrt(power);
    for (double& x : samples) {
        x += size * random.normal();
    }
}

void clip(double at, Samples& samples) {
    for (double& x : samples) {
        x = std::clamp(x, -at, at);
    }
}

void drop(const DroppedBlock& block, double rate_hz, Samples& samples) {
    const auto from = std::min(samples.size(), static_cast<std::size_t>(block.at_s * rate_hz));
    const auto to = std::min(samples.size(), from + block.samples);
    samples.erase(samples.begin() + static_cast<std::ptrdiff_t>(from),
                  samples.begin() + static_cast<std::ptrdiff_t>(to));
}

// What the recorder makes of what reaches one of its inputs, sampled at the path's rate.
Samples taken_down(Samples heard, double path_rate_hz, const RecorderPlan& plan) {
    const RecordingFaults& faults = plan.faults;
    const double true_rate_hz = faults.true_rate_hz.value_or(plan.sample_rate_hz);
    heard.insert(heard.begin(), static_cast<std::size_t>(plan.late_s * path_rate_hz), 0.0);
    Samples out = at_clock(heard, true_rate_hz / path_rate_hz * (1 + faults.drift_ppm * 1e-6));
    if (faults.dropped_block) {
        drop(*faults.dropped_block, true_rate_hz, out);
    }
    if (faults.ends_at_s) {
        out.resize(
            std::min(out.size(), static_cast<std::size_t>(*faults.ends_at_s * true_rate_hz)));
    }
    return out;
}

} // namespace

Recording recorded(std::span<const double> played, const ImpulseResponse& path,
                   const RecorderPlan& plan) {
    Seeded random(plan.seed);
    Samples heard = convolved(distorted(played, plan), path.samples, played.size());
    const double power = power_of(heard, played);
    Recording made{plan.sample_rate_hz, {}};
    made.channels.push_back(taken_down(std::move(heard), path.sample_rate_hz, plan));
    if (plan.has_reference) {
        made.channels.push_back(
            plan.faults.missing_reference
                ? Samples(made.channels[0].size())
                : taken_down({played.begin(), played.end()}, path.sample_rate_hz, plan));
    }
    if (plan.signal_to_noise_db) {
        add_noise(power * ratio_from_db(-2 * *plan.signal_to_noise_db), random, made.channels[0]);
    }
    if (plan.faults.clips_at) {
        clip(*plan.faults.clips_at, made.channels[0]);
    }
    if (plan.faults.swapped_channels && made.channels.size() > 1) {
        std::swap(made.channels[0], made.channels[1]);
    }
    return made;
}

} // namespace syntonon
