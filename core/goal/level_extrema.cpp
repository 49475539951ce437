// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/level_extrema.h"

#include "core/goal/extremum.h"
#include "core/math/false_position.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace syntonon {
namespace {

constexpr double seeds_an_octave = 48;

std::vector<double> frequencies(const Filter& filter, const ExtremaSearch& search) {
    const double ratio = std::exp2(1 / seeds_an_octave);
    // What ripples far more often than anybody could read the list is not looked at.
    const double most_ripples = 2 * static_cast<double>(search.most);
    auto hz = filter.telling_hz({search.low_hz, search.high_hz, ratio, search.axis, most_ripples});
    for (double f = search.low_hz; f < search.high_hz; f *= ratio) {
        hz.push_back(f);
    }
    hz.push_back(search.high_hz);
    std::ranges::sort(hz);
    hz.erase(std::unique(hz.begin(), hz.end()), hz.end());
    return hz;
}

class Turning {
public:
    Turning(const Filter& filter, const ExtremaSearch& search)
        : probe_(filter, search.axis), hz_(frequencies(filter, search)) {
        for (const double f : hz_) {
            level_.push_back(probe_.level_db(f));
        }
    }

    // Peaks and dips in turn, each at least so far from the one before it.
    std::vector<LevelExtremum> found(double least_step_db) const {
        std::vector<LevelExtremum> all;
        std::size_t high = 0, low = 0; // since the last one
        int direction = 0;             // 1: rising
        for (std::size_t i = 1; i < level_.size(); ++i) {
            high = level_[i] > level_[high] ? i : high;
            low = level_[i] < level_[low] ? i : low;
            if (direction >= 0 && level_[i] < level_[high] - least_step_db) {
                add(high, true, all);
                direction = -1;
                low = high = i;
            } else if (direction <= 0 && level_[i] > level_[low] + least_step_db) {
                add(low, false, all);
                direction = 1;
                low = high = i;
            }
        }
        return all;
    }

private:
    void add(std::size_t i, bool is_peak, std::vector<LevelExtremum>& all) const {
        if (i == 0 || i + 1 == hz_.size()) {
            return; // the range's end
        }
        if (std::isinf(level_[i])) {
            all.push_back({hz_[i], level_[i], is_peak});
            return;
        }
        if (const auto hz = where_level(hz_[i - 1], hz_[i + 1], is_peak)) {
            all.push_back({*hz, probe_.level_db(*hz), is_peak});
            return;
        }
        const double sign = is_peak ? 1 : -1;
        const Extremum best = greatest(
            [&](double f) { return sign * probe_.level_db(f); }, {hz_[i - 1], hz_[i], hz_[i + 1]},
            {sign * level_[i - 1], sign * level_[i], sign * level_[i + 1]});
        all.push_back({best.hz, sign * best.value, is_peak});
    }

    // Between two frequencies with one extremum between them.
    std::optional<double> where_level(double low, double high, bool is_peak) const {
        constexpr double near = 1e-11;
        return false_position([&](double hz) { return rise_of(probe_.value(hz), is_peak); }, low,
                              high, near * high);
    }

    Probe probe_;
    std::vector<double> hz_, level_;
};

} // namespace

LevelExtrema level_extrema(const Filter& filter, const ExtremaSearch& search) {
    LevelExtrema all;
    const double ripples =
        filter.finite_samples() * (search.high_hz - search.low_hz) / search.axis.sample_rate_hz;
    if (ripples > 2 * static_cast<double>(search.most)) {
        // The lowest ones, which a list begins with.
        ExtremaSearch lower = search;
        lower.high_hz = search.low_hz
                        + static_cast<double>(search.most) * search.axis.sample_rate_hz
                              / filter.finite_samples();
        all = level_extrema(filter, lower);
        all.is_complete = false;
        return all;
    }
    all.found = Turning(filter, search).found(search.least_step_db);
    if (all.found.size() > search.most) {
        all.found.resize(search.most);
        all.is_complete = false;
    }
    return all;
}

} // namespace syntonon
