// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/delay.h"

#include "core/base/units.h"
#include "core/math/fine_spectrum.h"

#include <algorithm>

namespace syntonon {
namespace {

class DelayProber : public Prober {
public:
    explicit DelayProber(double samples) : samples_(samples) {}

    FilterValue value(const CirclePoint& at) const override {
        const double turns = turns_of(at.hz, samples_, at.axis.sample_rate_hz);
        // At half the rate and at 0 Hz a whole delay is real.
        const std::complex<double> h = at.is_end() ? std::complex<double>(turns == 0 ? 1 : -1)
                                                   : std::polar(1.0, -2 * pi * turns);
        return {h, std::complex<double>(0, -samples_) * h, 0};
    }
    double level_db(const CirclePoint&) const override { return 0; }
    double phase_rad(const CirclePoint& at, Side) const override {
        return -2 * pi * turns_of(at.hz, samples_, at.axis.sample_rate_hz);
    }
    double group_delay_samples(const CirclePoint&) const override { return samples_; }

private:
    double samples_;
};

} // namespace

std::shared_ptr<const Prober> prober(const Delay& delay) {
    return std::make_shared<DelayProber>(static_cast<double>(delay.samples));
}

Expected<Roots> roots_of(const Delay& delay) {
    return Roots{{}, {}, 1, static_cast<double>(delay.samples)};
}

double finite_samples(const Delay& delay) {
    return static_cast<double>(delay.samples);
}

void run(const Delay& delay, std::span<double> signal) {
    const std::size_t shift = std::min(delay.samples, signal.size());
    std::shift_right(signal.begin(), signal.end(), static_cast<std::ptrdiff_t>(shift));
    std::ranges::fill(signal.first(shift), 0.0);
}

double latency_samples(const Delay& delay) {
    return static_cast<double>(delay.samples);
}

Cost cost(const Delay& delay) {
    Cost cost;
    cost.state_words = static_cast<std::int64_t>(delay.samples);
    return cost;
}

} // namespace syntonon
