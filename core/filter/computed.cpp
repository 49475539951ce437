// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/computed.h"

namespace syntonon {

std::shared_ptr<const Prober> prober(const Computed& computed) {
    return computed.linear.prober();
}

void add_telling_hz(const Computed& computed, const TellingRange& range, std::vector<double>& out) {
    const auto own = computed.linear.telling_hz(range);
    out.insert(out.end(), own.begin(), own.end());
}

Expected<Roots> roots_of(const Computed& computed) {
    return computed.linear.roots();
}

double finite_samples(const Computed& computed) {
    return computed.linear.finite_samples();
}

Expected<double> slowest_pole_radius(const Computed& computed, double sample_rate_hz) {
    return computed.linear.slowest_pole_radius(sample_rate_hz);
}

void run(const Computed& computed, std::span<double> signal) {
    computed.way->start()->process(signal);
}

double latency_samples(const Computed& computed) {
    return computed.linear.latency_samples();
}

Cost cost(const Computed& computed) {
    return computed.linear.cost();
}

std::size_t bytes_of(const Computed& computed) {
    return computed.linear.bytes() + computed.way->bytes();
}

} // namespace syntonon
