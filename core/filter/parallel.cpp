// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/parallel.h"

#include "core/filter/form.h"
#include "core/math/complex_parts.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

constexpr double rounding = 4e-16;

class SumProber : public Prober {
public:
    explicit SumProber(const ParallelSum& sum) {
        for (const auto& branch : sum.branches) {
            branches_.emplace_back(branch.factor, branch.filter.prober());
        }
    }

    FilterValue value(const CirclePoint& at) const override {
        FilterValue sum;
        for (const auto& [factor, prober] : branches_) {
            const FilterValue one = prober->value(at);
            sum.h += factor * one.h;
            sum.slope += factor * one.slope;
            sum.floor += std::abs(factor) * (one.floor + rounding * size_of(one.h));
        }
        return sum;
    }
    ResponsePoint response(const CirclePoint& at) const override {
        return response_of(value(at), at);
    }

private:
    std::vector<std::pair<double, std::shared_ptr<const Prober>>> branches_;
};

} // namespace

std::shared_ptr<const Prober> prober(const ParallelSum& sum) {
    return std::make_shared<SumProber>(sum);
}

void add_telling_hz(const ParallelSum& sum, const TellingRange& range, std::vector<double>& out) {
    const double longest = finite_samples(sum);
    if (ripples_too_often(longest, range)) {
        return;
    }
    std::vector<double> seeds;
    for (const auto& branch : sum.branches) {
        const auto own = branch.filter.telling_hz(range);
        seeds.insert(seeds.end(), own.begin(), own.end());
    }
    add_ripple_hz(longest, range, seeds);
    const auto found = halved_until_smooth(*prober(sum), std::move(seeds), range);
    out.insert(out.end(), found.begin(), found.end());
}

double finite_samples(const ParallelSum& sum) {
    double longest = 0;
    for (const auto& branch : sum.branches) {
        longest = std::max(longest, branch.filter.finite_samples());
    }
    return longest;
}

Expected<double> slowest_pole_radius(const ParallelSum& sum, double sample_rate_hz) {
    double slowest = 0;
    for (const auto& branch : sum.branches) {
        auto one = branch.filter.slowest_pole_radius(sample_rate_hz);
        if (!one) {
            return one;
        }
        slowest = std::max(slowest, *one);
    }
    return slowest;
}

void run(const ParallelSum& sum, std::span<double> signal) {
    const std::vector<double> input(signal.begin(), signal.end());
    std::ranges::fill(signal, 0.0);
    for (const auto& branch : sum.branches) {
        std::vector<double> output = input;
        branch.filter.run(output);
        for (std::size_t n = 0; n < signal.size(); ++n) {
            signal[n] += branch.factor * output[n];
        }
    }
}

double latency_samples(const ParallelSum& sum) {
    double least = std::numeric_limits<double>::infinity();
    for (const auto& branch : sum.branches) {
        if (branch.factor != 0) {
            least = std::min(least, branch.filter.latency_samples());
        }
    }
    return std::isfinite(least) ? least : 0;
}

Cost cost(const ParallelSum& sum) {
    Cost all;
    for (const auto& branch : sum.branches) {
        all += branch.filter.cost();
        all.multiplies += branch.factor != 0 && std::abs(branch.factor) != 1 ? 1 : 0;
    }
    all.adds += std::max(static_cast<int>(sum.branches.size()) - 1, 0);
    return all;
}

std::size_t bytes_of(const ParallelSum& sum) {
    std::size_t bytes = 0;
    for (const auto& branch : sum.branches) {
        bytes += branch.filter.bytes();
    }
    return bytes;
}

} // namespace syntonon
