// Filters one after the other.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <vector>

namespace syntonon {

struct Series {
    std::vector<Filter> parts; // in the order of the signal; none of them a series

    bool operator==(const Series&) const = default;
};

std::shared_ptr<const Prober> prober(const Series& chain);
void add_telling_hz(const Series& chain, const TellingRange& range, std::vector<double>& out);
Expected<Roots> roots_of(const Series& chain);
double finite_samples(const Series& chain);
Expected<double> slowest_pole_radius(const Series& chain, double sample_rate_hz);
void run(const Series& chain, std::span<double> signal);
double latency_samples(const Series& chain);
Cost cost(const Series& chain);
std::size_t bytes_of(const Series& chain);

} // namespace syntonon
