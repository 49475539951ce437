// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/deconvolution.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <fmt/format.h>

namespace syntonon {
namespace {

// By how much the quotient is held back at a frequency, as a share of the greatest power: not at
// all that matters within the range, wholly beyond.
double held_back(double hz, const SweepPlan& plan) {
    constexpr double within = 1e-14, beyond = 1, edge_oct = 1.0 / 6;
    const double below = octaves_between(hz, plan.from_hz) / edge_oct;
    const double above = octaves_between(plan.to_hz, hz) / edge_oct;
    const double outside = std::clamp(std::max(below, above), 0.0, 1.0);
    return within * std::pow(beyond / within, outside);
}

std::vector<std::complex<double>> spectrum_of(std::span<const double> samples, RealFft& fft) {
    std::ranges::fill(std::ranges::copy(samples, fft.signal().begin()).out, fft.signal().end(),
                      0.0);
    fft.to_spectrum();
    return {fft.spectrum().begin(), fft.spectrum().end()};
}

// The whole circle of the quotient: what comes before time 0 stands at its end.
std::vector<double> quotient_of(std::span<const double> recording, std::span<const double> played,
                                const SweepPlan& plan) {
    RealFft fft(quick_fft_length(recording.size() + played.size()));
    const auto x = spectrum_of(played, fft);
    const auto y = spectrum_of(recording, fft);
    double greatest = 0;
    for (const std::complex<double>& bin : x) {
        greatest = std::max(greatest, std::norm(bin));
    }
    const double step_hz = plan.sample_rate_hz / static_cast<double>(fft.length());
    const double scale = 1 / static_cast<double>(fft.length());
    for (std::size_t k = 0; k < x.size(); ++k) {
        const double hz = std::max(static_cast<double>(k), 0.5) * step_hz;
        const double power = std::norm(x[k]) + greatest * held_back(hz, plan);
        // Else noise would be louder by as much as the sweep is faded out.
        const double fade = faded_out_at(plan, hz);
        fft.spectrum()[k] = y[k] * std::conj(x[k]) * (scale * fade / power);
    }
    fft.to_signal();
    return {fft.signal().begin(), fft.signal().end()};
}

class Circle {
public:
    explicit Circle(std::vector<double> samples) : samples_(std::move(samples)) {}

    double at(std::ptrdiff_t n) const {
        const auto length = static_cast<std::ptrdiff_t>(samples_.size());
        return samples_[static_cast<std::size_t>(((n % length) + length) % length)];
    }
    // Of greatest magnitude, from `from` on, before `to`.
    std::ptrdiff_t peak(std::ptrdiff_t from, std::ptrdiff_t to) const {
        std::ptrdiff_t best = from;
        for (std::ptrdiff_t n = from; n < to; ++n) {
            best = std::abs(at(n)) > std::abs(at(best)) ? n : best;
        }
        return best;
    }
    std::vector<double> part(std::ptrdiff_t from, std::ptrdiff_t to) const {
        std::vector<double> samples;
        samples.reserve(static_cast<std::size_t>(std::max<std::ptrdiff_t>(to - from, 0)));
        for (std::ptrdiff_t n = from; n < to; ++n) {
            samples.push_back(at(n));
        }
        return samples;
    }

private:
    std::vector<double> samples_;
};

Expected<void> check_recording(std::span<const double> recording, const SweepPlan& plan) {
    const std::size_t period = period_samples(plan);
    const std::size_t sweep = sweep_length_samples(plan);
    const std::size_t least = period * static_cast<std::size_t>(plan.repeats - 1) + sweep;
    const auto odd =
        std::ranges::find_if(recording, [](double sample) { return !std::isfinite(sample); });
    if (odd != recording.end()) {
        return refuse(fmt::format("sample {}", odd - recording.begin()), "is not a finite number",
                      "record it again");
    }
    if (recording.size() < least) {
        return refuse("recording",
                      fmt::format("has {} samples, and {} {}", recording.size(),
                                  plan.repeats == 1 ? "the sweep alone" : "all the sweeps", least),
                      "record all of it, or choose the sweep that was played");
    }
    if (std::ranges::all_of(recording, [](double sample) { return sample == 0; })) {
        return refuse("recording", "is silent", "look at the cable and at the level");
    }
    return {};
}

Expected<Deconvolved> taken_apart(const Circle& circle, std::size_t recorded, std::size_t played,
                                  const SweepPlan& plan, int most_harmonics) {
    const double rate = plan.sample_rate_hz;
    const auto samples_of = [&](double s) {
        return static_cast<std::ptrdiff_t>(std::llround(s * rate));
    };
    // No response of the room comes before it was sent, but the clocks may not begin together.
    const auto most = static_cast<std::ptrdiff_t>(recorded);
    const auto reach = static_cast<std::ptrdiff_t>(played);
    const std::ptrdiff_t peak = circle.peak(-reach / 8, std::max(most - reach, reach / 8));
    Deconvolved made;
    const std::ptrdiff_t second = samples_of(harmonic_lead_s(plan, 2));
    const std::ptrdiff_t begin = peak - second / 2;
    // As long as was recorded behind the sweep, and at least as far as the other way.
    const std::ptrdiff_t end = std::max(most - reach, peak + second / 2);
    made.response = {rate, circle.part(begin, end), begin};
    for (int order = 2; order <= most_harmonics + 1; ++order) {
        const std::ptrdiff_t lead = samples_of(harmonic_lead_s(plan, order));
        const std::ptrdiff_t before = samples_of(harmonic_lead_s(plan, order + 1)) - lead;
        const std::ptrdiff_t behind = lead - samples_of(harmonic_lead_s(plan, order - 1));
        const std::ptrdiff_t from = peak - before / 2, to = peak + behind / 2;
        made.harmonics.push_back({rate, circle.part(from - lead, to - lead), from});
    }
    return made;
}

// The mean of all sweeps, in the place of the first.
std::vector<double> mean_sweep_of(std::span<const double> recording, const SweepPlan& plan) {
    if (plan.repeats == 1) {
        return {recording.begin(), recording.end()};
    }
    std::vector<double> mean = one_sweep_of(recording, plan, 0);
    for (int which = 1; which < plan.repeats; ++which) {
        const std::vector<double> other = one_sweep_of(recording, plan, which);
        for (std::size_t n = 0; n < other.size(); ++n) {
            mean[n] += other[n];
        }
    }
    for (double& x : mean) {
        x /= plan.repeats;
    }
    return mean;
}

} // namespace

std::vector<double> one_sweep_of(std::span<const double> recording, const SweepPlan& plan,
                                 int which) {
    const std::size_t from = period_samples(plan) * static_cast<std::size_t>(which);
    const std::size_t length = lead_in_samples(plan) + period_samples(plan);
    const auto part = recording.subspan(std::min(from, recording.size()));
    return {part.begin(),
            part.begin() + static_cast<std::ptrdiff_t>(std::min(length, part.size()))};
}

Expected<Deconvolved> deconvolved(std::span<const double> recording, const SweepPlan& plan,
                                  int most_harmonics) {
    if (auto ok = check(plan); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_recording(recording, plan); !ok) {
        return tl::unexpected(ok.error());
    }
    const std::vector<double> sweep = sweep_samples(plan);
    const std::vector<double> once = mean_sweep_of(recording, plan);
    std::vector<double> played(lead_in_samples(plan));
    played.insert(played.end(), sweep.begin(), sweep.end());
    const Circle circle(quotient_of(once, played, plan));
    return taken_apart(circle, once.size(), played.size(), plan, most_harmonics);
}

Expected<Deconvolved> deconvolved_against(std::span<const double> recording,
                                          std::span<const double> loopback, const SweepPlan& plan,
                                          int most_harmonics) {
    if (auto ok = check(plan); !ok) {
        return tl::unexpected(ok.error());
    }
    for (const auto& channel : {recording, loopback}) {
        if (auto ok = check_recording(channel, plan); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    const std::vector<double> once = mean_sweep_of(recording, plan);
    const Circle circle(quotient_of(once, mean_sweep_of(loopback, plan), plan));
    return taken_apart(circle, once.size(), lead_in_samples(plan) + sweep_length_samples(plan),
                       plan, most_harmonics);
}

} // namespace syntonon
