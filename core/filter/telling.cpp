// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/telling.h"

#include "core/base/units.h"
#include "core/filter/probe.h"
#include "core/math/complex_parts.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double steps_a_ripple = 4;
constexpr double smooth = 0.01;             // of the value in the middle
constexpr double swings = 0.9;              // of the smaller end
constexpr std::size_t most_found = 1 << 19; // found frequencies

class Halving {
public:
    Halving(const Prober& prober, const Axis& axis, std::vector<double>& out)
        : prober_(prober), axis_(axis), out_(out) {}

    FilterValue value(double hz) const { return prober_.value(circle_point(hz, axis_)); }

    void between(double low, const FilterValue& at_low, double high, const FilterValue& at_high,
                 int halvings) {
        const double middle = (low + high) / 2;
        if (halvings == 0 || out_.size() >= most_found || !(middle > low && middle < high)) {
            return;
        }
        const FilterValue found = value(middle);
        const double width = axis_.rad_per_sample(high - low);
        const std::complex<double> expected =
            (at_low.h + at_high.h) / 2.0 + width / 8 * (at_low.slope - at_high.slope);
        const bool follows = size_of(found.h - expected) <= smooth * size_of(found.h) + found.floor;
        // Beside a zero near the circle H is as straight as can be, but its phase swings round and
        // the delay, H'/H, has a narrow bell.
        const double least = std::min(size_of(at_low.h), size_of(at_high.h));
        if (follows && size_of(at_high.h - at_low.h) <= swings * least + found.floor) {
            return;
        }
        out_.push_back(middle);
        between(low, at_low, middle, found, halvings - 1);
        between(middle, found, high, at_high, halvings - 1);
    }

private:
    const Prober& prober_;
    Axis axis_;
    std::vector<double>& out_;
};

} // namespace

// What has no samples has no ripples of theirs: on an axis without end there would be no end to
// their steps either.
bool ripples_too_often(double memory_samples, const TellingRange& range) {
    return !range.axis.is_analog()
           && memory_samples * (range.high_hz - range.low_hz) / range.axis.sample_rate_hz
                  > range.most_ripples;
}

void add_ripple_hz(double memory_samples, const TellingRange& range, std::vector<double>& out) {
    if (range.axis.is_analog()) {
        return;
    }
    const double step =
        range.axis.sample_rate_hz / (2 * steps_a_ripple * std::max(memory_samples, 1.0));
    const double coarse_from = std::max(range.low_hz, step / (range.grid_ratio - 1));
    for (double k = std::ceil(coarse_from / step); k * step < range.high_hz; ++k) {
        out.push_back(k * step);
    }
}

std::vector<double> halved_until_smooth(const Prober& prober, std::vector<double> seeds,
                                        const TellingRange& range) {
    for (double hz = range.low_hz; hz < range.high_hz; hz *= range.grid_ratio) {
        seeds.push_back(hz);
    }
    seeds.push_back(range.high_hz);
    std::erase_if(seeds, [&](double hz) { return !(hz >= range.low_hz && hz <= range.high_hz); });
    std::ranges::sort(seeds);
    seeds.erase(std::unique(seeds.begin(), seeds.end()), seeds.end());
    std::vector<double> found = seeds;
    Halving halving(prober, range.axis, found);
    FilterValue last = halving.value(seeds.front());
    for (std::size_t i = 1; i < seeds.size(); ++i) {
        const FilterValue next = halving.value(seeds[i]);
        halving.between(seeds[i - 1], last, seeds[i], next, range.most_halvings);
        last = next;
    }
    return found;
}

} // namespace syntonon
