// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/loop.h"

#include "core/filter/beside_pole.h"
#include "core/filter/form.h"
#include "core/filter/stepper.h"
#include "core/math/complex_parts.h"
#include "core/math/fft.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr int few_taps = 256; // are run through sample by sample

class LoopProber : public Prober {
public:
    explicit LoopProber(const Loop& loop)
        : forward_(loop.forward.prober()), feedback_(loop.feedback.prober()), factor_(loop.factor) {
    }

    FilterValue value(const CirclePoint& at) const override {
        const FilterValue f = forward_->value(at), r = feedback_->value(at);
        const std::complex<double> round = factor_ * times(f.h, r.h);
        const std::complex<double> left = 1.0 - round;
        const std::complex<double> left_slope =
            -factor_ * (times(f.slope, r.h) + times(f.h, r.slope));
        const double left_floor =
            4e-16 * (1 + size_of(round))
            + std::abs(factor_) * (f.floor * size_of(r.h) + size_of(f.h) * r.floor);
        const bool is_pole = size_of(left) <= left_floor;
        const std::complex<double> inverse =
            inverse_of(is_pole ? beside_pole(left_slope, left_floor) : left);
        const std::complex<double> h = times(f.h, inverse);
        const double floor = f.floor * size_of(inverse);
        return {h, times(f.slope - times(h, left_slope), inverse),
                is_pole ? floor : floor + size_of(h) * left_floor * size_of(inverse)};
    }
    ResponsePoint response(const CirclePoint& at) const override {
        return response_of(value(at), at);
    }

private:
    std::shared_ptr<const Prober> forward_, feedback_;
    double factor_;
};

// Whether a sequence grows so far beyond its first sample that a transform, whose error is that of
// the largest one, would lose the small ones.
bool grows(std::span<const double> sequence) {
    constexpr double much = 1e3;
    const double first = std::abs(sequence.front());
    return std::ranges::any_of(sequence, [&](double v) { return !(std::abs(v) <= much * first); });
}

// With long FIRs in the loop quicker than sample by sample: the response to an impulse first,
// f / (1 - factor f r), as power series. False, and nothing done, where the result would be poor.
bool run_by_transform(const Loop& loop, std::span<double> signal) {
    const std::size_t count = signal.size();
    std::vector<double> left =
        series(std::array{loop.forward, loop.feedback}).impulse_response(count);
    for (double& sample : left) {
        sample *= -loop.factor;
    }
    if (left.empty()) {
        return true;
    }
    left[0] += 1;
    const std::vector<double> inverse = convolution_inverse(left, count);
    if (grows(inverse)) {
        return false;
    }
    loop.forward.run(signal);
    std::ranges::copy(convolved(inverse, signal, count), signal.begin());
    return true;
}

} // namespace

double gain_at_once(const Loop& loop) {
    return loop.factor * loop.forward.at_once() * loop.feedback.at_once();
}

bool is_analog(const Loop& loop) {
    return loop.forward.is_analog() || loop.feedback.is_analog();
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
    const double around = finite_samples(loop);
    if (ripples_too_often(around, range)) {
        return;
    }
    std::vector<double> seeds;
    for (const Filter* part : {&loop.forward, &loop.feedback}) {
        const auto own = part->telling_hz(range);
        seeds.insert(seeds.end(), own.begin(), own.end());
    }
    add_ripple_hz(around, range, seeds);
    const auto found = halved_until_smooth(*prober(loop), std::move(seeds), range);
    out.insert(out.end(), found.begin(), found.end());
}

double finite_samples(const Loop& loop) {
    return loop.forward.finite_samples() + loop.feedback.finite_samples();
}

void run(const Loop& loop, std::span<double> signal) {
    if (cost(loop).taps > few_taps && run_by_transform(loop, signal)) {
        return;
    }
    const auto stepper = stepper_of(loop);
    for (std::size_t n = 0; n < signal.size(); ++n) {
        signal[n] = stepper->take(signal[n]);
        if (!std::isfinite(signal[n])) { // and so are all that follow
            std::ranges::fill(signal.subspan(n), signal[n]);
            return;
        }
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
