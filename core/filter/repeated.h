// A filter several times, one after the other.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

namespace syntonon {

struct Repeated {
    Filter filter;
    std::size_t count = 1; // 1 or more

    bool operator==(const Repeated&) const = default;
};

// What is left of a count of 1, of a wire, and of repetitions within one another.
Filter repeated(const Filter& filter, std::size_t count);

std::shared_ptr<const Prober> prober(const Repeated& repeated);
void add_telling_hz(const Repeated& repeated, const TellingRange& range, std::vector<double>& out);
// Each of the filter's own, `count` times. Refused, too, where the gain is beyond all numbers.
Expected<Roots> roots_of(const Repeated& repeated);
double finite_samples(const Repeated& repeated);
Expected<double> slowest_pole_radius(const Repeated& repeated, double sample_rate_hz);
void run(const Repeated& repeated, std::span<double> signal);
double latency_samples(const Repeated& repeated);
Cost cost(const Repeated& repeated);
std::size_t bytes_of(const Repeated& repeated);

} // namespace syntonon
