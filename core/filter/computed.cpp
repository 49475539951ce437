// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/computed.h"

#include "core/filter/form.h"

#include <algorithm>
#include <iterator>

namespace syntonon {
namespace {

struct LinearOf {
    Filter operator()(const Computed& computed) const { return linear_of(computed.linear); }
    Filter operator()(const Series& chain) const {
        std::vector<Filter> parts;
        std::ranges::transform(chain.parts, std::back_inserter(parts), linear_of);
        return parts == chain.parts ? filter : series(parts);
    }
    Filter operator()(const ParallelSum& sum) const {
        ParallelSum linear = sum;
        for (auto& branch : linear.branches) {
            branch.filter = linear_of(branch.filter);
        }
        return linear == sum ? filter : Filter(std::move(linear));
    }
    Filter operator()(const Loop& loop) const {
        const Loop linear{linear_of(loop.forward), loop.factor, linear_of(loop.feedback)};
        return linear == loop ? filter : Filter(linear);
    }
    Filter operator()(const Repeated& repeated) const {
        const Filter one = linear_of(repeated.filter);
        return one == repeated.filter ? filter : Filter(Repeated{one, repeated.count});
    }
    template <class Leaf>
    Filter operator()(const Leaf&) const {
        return filter;
    }

    const Filter& filter;
};

struct Saturates {
    bool operator()(const Computed& computed) const {
        return computed.way->stays_within_bounds() || saturates(computed.linear);
    }
    bool operator()(const Series& chain) const {
        return std::ranges::any_of(chain.parts, saturates);
    }
    bool operator()(const ParallelSum& sum) const {
        return std::ranges::any_of(sum.branches, [](const auto& b) { return saturates(b.filter); });
    }
    bool operator()(const Loop& loop) const {
        return saturates(loop.forward) || saturates(loop.feedback);
    }
    bool operator()(const Repeated& repeated) const { return saturates(repeated.filter); }
    template <class Leaf>
    bool operator()(const Leaf&) const {
        return false;
    }
};

} // namespace

bool saturates(const Filter& filter) {
    return std::visit(Saturates(), static_cast<const AnyForm::variant&>(filter.form()));
}

Filter linear_of(const Filter& filter) {
    return std::visit(LinearOf{filter}, static_cast<const AnyForm::variant&>(filter.form()));
}

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
    return computed.way->cost(computed.linear);
}

std::size_t bytes_of(const Computed& computed) {
    return computed.linear.bytes() + computed.way->bytes();
}

} // namespace syntonon
