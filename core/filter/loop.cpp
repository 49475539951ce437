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
    std::ranges::copy(convolved(convolution_inverse(left, count), signal, count), signal.begin());
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
