// A filter whose output is fed back to its input.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

namespace syntonon {

// output = forward(input + factor * feedback(output)), so H = F / (1 - factor F R). Where forward
// and feedback both answer at once, the equation is solved for the output.
struct Loop {
    Filter forward;
    double factor = 0; // finite
    Filter feedback;

    bool operator==(const Loop&) const = default;
};

// What comes back of a sample in the very same sample: 0 with a delay in the loop.
double gain_at_once(const Loop& loop);
bool is_analog(const Loop& loop);

// Refused where the equation has no solution: a loop without delay whose gain at once is 1.
Expected<Filter> closed_loop(Loop loop);

std::shared_ptr<const Prober> prober(const Loop& loop);
void add_telling_hz(const Loop& loop, const TellingRange& range, std::vector<double>& out);
double finite_samples(const Loop& loop);
void run(const Loop& loop, std::span<double> signal);
double latency_samples(const Loop& loop);
Cost cost(const Loop& loop);
std::size_t bytes_of(const Loop& loop);

} // namespace syntonon
