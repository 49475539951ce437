// Filters side by side, their outputs summed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <vector>

namespace syntonon {

struct ParallelSum {
    struct Branch {
        double factor = 1; // finite; negative: polarity turned
        Filter filter;

        bool operator==(const Branch&) const = default;
    };
    std::vector<Branch> branches; // none: silence

    bool operator==(const ParallelSum&) const = default;
};

std::shared_ptr<const Prober> prober(const ParallelSum& sum);
void add_telling_hz(const ParallelSum& sum, const TellingRange& range, std::vector<double>& out);
double finite_samples(const ParallelSum& sum);
Expected<double> slowest_pole_radius(const ParallelSum& sum, double sample_rate_hz);
void run(const ParallelSum& sum, std::span<double> signal);
double latency_samples(const ParallelSum& sum);
Cost cost(const ParallelSum& sum);
std::size_t bytes_of(const ParallelSum& sum);

} // namespace syntonon
