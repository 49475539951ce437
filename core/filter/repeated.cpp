// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/repeated.h"

#include "core/filter/form.h"
#include "core/math/complex_parts.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

// Level, phase and delay are the filter's own, times the count.
class RepeatedProber : public Prober {
public:
    explicit RepeatedProber(const Repeated& repeated)
        : one_(repeated.filter.prober()), count_(repeated.count),
          times_(static_cast<double>(repeated.count)) {}

    // (h^n)' = n h^(n - 1) h'; rounding adds up as often as it happens.
    FilterValue value(const CirclePoint& at) const override {
        const FilterValue one = one_->value(at);
        const std::complex<double> before_last = power_of(one.h, count_ - 1);
        return {times(before_last, one.h), times_ * times(before_last, one.slope),
                times_ * size_of(before_last) * (one.floor + 2e-16 * size_of(one.h))};
    }
    double level_db(const CirclePoint& at) const override { return times_ * one_->level_db(at); }
    double phase_rad(const CirclePoint& at, Side side) const override {
        return times_ * one_->phase_rad(at, side);
    }
    double group_delay_samples(const CirclePoint& at) const override {
        return times_ * one_->group_delay_samples(at);
    }

private:
    std::shared_ptr<const Prober> one_;
    std::size_t count_;
    double times_;
};

std::vector<std::complex<double>> each_times(const std::vector<std::complex<double>>& roots,
                                             std::size_t count) {
    std::vector<std::complex<double>> all;
    all.reserve(roots.size() * count);
    for (std::size_t i = 0; i < count; ++i) {
        all.insert(all.end(), roots.begin(), roots.end());
    }
    return all;
}

} // namespace

Filter repeated(const Filter& filter, std::size_t count) {
    if (const auto* inner = std::get_if<Repeated>(&filter.form())) {
        return repeated(inner->filter, inner->count * count);
    }
    return count == 1 || filter == Filter() ? filter : Filter(Repeated{filter, count});
}

std::shared_ptr<const Prober> prober(const Repeated& repeated) {
    return std::make_shared<RepeatedProber>(repeated);
}

// Where the filter has its extrema, its power has them.
void add_telling_hz(const Repeated& repeated, const TellingRange& range, std::vector<double>& out) {
    const auto own = repeated.filter.telling_hz(range);
    out.insert(out.end(), own.begin(), own.end());
}

Expected<Roots> roots_of(const Repeated& repeated) {
    const auto& one = repeated.filter.roots();
    if (!one) {
        return one;
    }
    const auto times = static_cast<double>(repeated.count);
    Roots all{each_times(one->zeros, repeated.count),
              each_times(one->poles, repeated.count),
              std::pow(one->gain, times),
              one->delay_samples * times,
              one->uncertainty,
              one->domain};
    if (!std::isfinite(all.gain)) {
        return refuse("",
                      fmt::format("a gain of {:.3g}, {} times, is beyond all numbers", one->gain,
                                  repeated.count),
                      "repeat it less often");
    }
    return all;
}

double finite_samples(const Repeated& repeated) {
    return repeated.filter.finite_samples() * static_cast<double>(repeated.count);
}

Expected<double> slowest_pole_radius(const Repeated& repeated, double sample_rate_hz) {
    return repeated.filter.slowest_pole_radius(sample_rate_hz);
}

void run(const Repeated& repeated, std::span<double> signal) {
    for (std::size_t i = 0; i < repeated.count; ++i) {
        repeated.filter.run(signal);
    }
}

double latency_samples(const Repeated& repeated) {
    return repeated.filter.latency_samples() * static_cast<double>(repeated.count);
}

Cost cost(const Repeated& repeated) {
    Cost all;
    for (std::size_t i = 0; i < repeated.count; ++i) {
        all += repeated.filter.cost();
    }
    return all;
}

std::size_t bytes_of(const Repeated& repeated) {
    return repeated.filter.bytes();
}

} // namespace syntonon
