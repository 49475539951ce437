// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/gain.h"

#include "core/base/units.h"

#include <cmath>
#include <limits>

namespace syntonon {
namespace {

class GainProber : public Prober {
public:
    explicit GainProber(double factor)
        : factor_(factor), level_db_(db_from_ratio(std::abs(factor))) {}

    FilterValue value(const CirclePoint&) const override { return {factor_, 0, 0}; }
    double level_db(const CirclePoint&) const override { return level_db_; }
    double phase_rad(const CirclePoint&, Side) const override { return factor_ < 0 ? pi : 0; }
    double group_delay_samples(const CirclePoint&) const override {
        return factor_ != 0 ? 0 : std::numeric_limits<double>::quiet_NaN();
    }

private:
    double factor_, level_db_;
};

} // namespace

std::shared_ptr<const Prober> prober(const Gain& gain) {
    return std::make_shared<GainProber>(gain.factor);
}

Expected<Roots> roots_of(const Gain& gain) {
    return Roots{{}, {}, gain.factor, 0};
}

void run(const Gain& gain, std::span<double> signal) {
    for (double& sample : signal) {
        sample *= gain.factor;
    }
}

Cost cost(const Gain& gain) {
    Cost cost;
    cost.multiplies = std::abs(gain.factor) != 1 && gain.factor != 0 ? 1 : 0;
    return cost;
}

} // namespace syntonon
