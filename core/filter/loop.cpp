// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/loop.h"

#include "core/filter/form.h"
#include "core/math/fft.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

class LoopProber : public Prober {
public:
    explicit LoopProber(const Loop& loop)
        : forward_(loop.forward.prober()), feedback_(loop.feedback.prober()), factor_(loop.factor) {
    }

    FilterValue value(const CirclePoint& at) const override {
        const FilterValue f = forward_->value(at), r = feedback_->value(at);
        const std::complex<double> round = factor_ * f.h * r.h;
        const std::complex<double> left = 1.0 - round;
        const std::complex<double> left_slope = -factor_ * (f.slope * r.h + f.h * r.slope);
        const std::complex<double> h = f.h / left;
        const double left_floor =
            4e-16 * (1 + std::abs(round))
            + std::abs(factor_) * (f.floor * std::abs(r.h) + std::abs(f.h) * r.floor);
        return {h, (f.slope - h * left_slope) / left,
                (f.floor + std::abs(h) * left_floor) / std::abs(left)};
    }

private:
    std::shared_ptr<const Prober> forward_, feedback_;
    double factor_;
};

// The sequence whose convolution with `left` is the signal, sample by sample: its error is small
// beside each sample, not only beside the largest one.
void solve_by_samples(std::span<const double> left, std::span<double> signal) {
    std::vector<std::size_t> there; // a delay leaves few
    for (std::size_t m = 1; m < left.size(); ++m) {
        if (left[m] != 0) {
            there.push_back(m);
        }
    }
    for (std::size_t n = 0; n < signal.size(); ++n) {
        double sum = signal[n];
        for (std::size_t i = 0; i < there.size() && there[i] <= n; ++i) {
            sum -= left[there[i]] * signal[n - there[i]];
        }
        signal[n] = sum / left[0];
        if (!std::isfinite(signal[n])) { // and so are all that follow
            std::ranges::fill(signal.subspan(n), signal[n]);
            return;
        }
    }
}

// Whether a sequence grows so far beyond its first sample that a transform, whose error is that of
// the largest one, would lose the small ones.
bool grows(std::span<const double> sequence) {
    constexpr double much = 1e3;
    const double first = std::abs(sequence.front());
    return std::ranges::any_of(sequence, [&](double v) { return !(std::abs(v) <= much * first); });
}

} // namespace

double gain_at_once(const Loop& loop) {
    return loop.factor * loop.forward.impulse_response(1).front()
           * loop.feedback.impulse_response(1).front();
}

Expected<Filter> closed_loop(Loop loop) {
    if (std::abs(1 - gain_at_once(loop)) < 1e-12) {
        return refuse("feedback.factor",
                      "the loop has no delay and a gain of 1 at once, so it has no solution",
                      "put a delay of 1 sample into it or change the factor");
    }
    return Filter(std::move(loop));
}

std::shared_ptr<const Prober> prober(const Loop& loop) {
    return std::make_shared<LoopProber>(loop);
}

void add_telling_hz(const Loop& loop, const TellingRange& range, std::vector<double>& out) {
    double around = 0;
    std::vector<double> seeds;
    for (const Filter* part : {&loop.forward, &loop.feedback}) {
        const auto memory = part->memory();
        around += memory ? memory->finite_samples : 0.0;
    }
    if (ripples_too_often(around, range)) {
        return;
    }
    for (const Filter* part : {&loop.forward, &loop.feedback}) {
        const auto own = part->telling_hz(range);
        seeds.insert(seeds.end(), own.begin(), own.end());
    }
    add_ripple_hz(around, range, seeds);
    const auto found = halved_until_smooth(*prober(loop), std::move(seeds), range);
    out.insert(out.end(), found.begin(), found.end());
}

Expected<Memory> memory_of(const Loop& loop, const Expected<Roots>& roots) {
    auto memory = loop.forward.memory();
    if (!memory || !roots) {
        return tl::unexpected(!memory ? memory.error() : roots.error());
    }
    memory->slowest_radius = 1 - stability_margin(*roots);
    return memory;
}

void run(const Loop& loop, std::span<double> signal) {
    // The response to an impulse first: f / (1 - factor f r), as power series.
    const std::size_t count = signal.size();
    std::vector<double> left =
        series(std::array{loop.forward, loop.feedback}).impulse_response(count);
    for (double& sample : left) {
        sample *= -loop.factor;
    }
    if (left.empty()) {
        return;
    }
    left[0] += 1;
    loop.forward.run(signal);
    const std::vector<double> inverse = convolution_inverse(left, count);
    if (grows(inverse)) {
        solve_by_samples(left, signal);
    } else {
        std::ranges::copy(convolved(inverse, signal, count), signal.begin());
    }
}

double latency_samples(const Loop& loop) {
    return loop.forward.latency_samples();
}

Cost cost(const Loop& loop) {
    Cost all = loop.forward.cost();
    all += loop.feedback.cost();
    all.multiplies += loop.factor != 0 && std::abs(loop.factor) != 1 ? 1 : 0;
    all.adds += 1;
    return all;
}

std::size_t bytes_of(const Loop& loop) {
    return loop.forward.bytes() + loop.feedback.bytes();
}

} // namespace syntonon
