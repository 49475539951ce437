// A filter whose signal is computed in a way of its own, as in the words of a processor. In all
// else, what is drawn, judged and counted, it is the linear filter that stands for it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/computation.h"
#include "core/filter/filter.h"

#include <memory>

namespace syntonon {

// How: immutable, shared by the copies of a filter.
class WayOfComputing {
public:
    virtual ~WayOfComputing() = default;
    WayOfComputing() = default;
    WayOfComputing(const WayOfComputing&) = delete;
    WayOfComputing& operator=(const WayOfComputing&) = delete;

    virtual std::unique_ptr<Computation> start() const = 0;      // from rest
    virtual bool is_like(const WayOfComputing& other) const = 0; // to the last bit
    virtual std::size_t bytes() const = 0;
    // Whether it does also where the linear filter's poles would not let it die away.
    virtual bool stays_within_bounds() const { return false; }
    // What it takes; as much as the linear filter where nothing else is said.
    virtual Cost cost(const Filter& linear) const { return linear.cost(); }
};

struct Computed {
    Filter linear;
    std::shared_ptr<const WayOfComputing> way; // not null

    bool operator==(const Computed& other) const {
        return linear == other.linear && way->is_like(*other.way);
    }
};

// The filter with what stands for its computed parts in their places.
Filter linear_of(const Filter& filter);
// Whether something in it saturates, so that what stands for it holds for small signals only.
bool saturates(const Filter& filter);

std::shared_ptr<const Prober> prober(const Computed& computed);
void add_telling_hz(const Computed& computed, const TellingRange& range, std::vector<double>& out);
Expected<Roots> roots_of(const Computed& computed);
double finite_samples(const Computed& computed);
Expected<double> slowest_pole_radius(const Computed& computed, double sample_rate_hz);
void run(const Computed& computed, std::span<double> signal);
double latency_samples(const Computed& computed);
Cost cost(const Computed& computed);
std::size_t bytes_of(const Computed& computed);

} // namespace syntonon
