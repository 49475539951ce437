// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/sample_extremes.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr std::size_t block = 256;
constexpr double most_level = 1e12;
constexpr double endless = std::numeric_limits<double>::infinity();
constexpr SampleExtremes::Stretch nothing{endless, -endless, endless, 0};

} // namespace

SampleExtremes::SampleExtremes(std::span<const double> values) : values_(values) {
    for (std::size_t i = 0; i < values_.size(); ++i) {
        if (i % block == 0) {
            blocks_.push_back(nothing);
        }
        const double size = std::abs(values_[i]);
        take(blocks_.back(), values_[i]);
        bounded_ = bounded_ && size < most_level; // false of what is no number, too
        if (size > std::abs(values_[loudest_])) {
            rest_ = std::max(rest_, std::abs(values_[loudest_]));
            loudest_ = i;
        } else if (i > 0) {
            rest_ = std::max(rest_, size);
        }
    }
}

void SampleExtremes::take(Stretch& all, double value) {
    const double size = std::abs(value);
    take(all, {value, value, size, size});
}

void SampleExtremes::take(Stretch& all, const Stretch& other) {
    all.low = std::min(all.low, other.low);
    all.high = std::max(all.high, other.high);
    all.quiet = std::min(all.quiet, other.quiet);
    all.loud = std::max(all.loud, other.loud);
}

SampleExtremes::Stretch SampleExtremes::of(std::size_t from, std::size_t to) const {
    Stretch all = nothing;
    while (from < to) {
        if (from % block == 0 && from + block <= to) {
            take(all, blocks_[from / block]);
            from += block;
        } else {
            take(all, values_[from++]);
        }
    }
    return all;
}

} // namespace syntonon
