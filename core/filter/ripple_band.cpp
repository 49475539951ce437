// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/ripple_band.h"

#include "core/base/units.h"
#include "core/math/false_position.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numbers>
#include <numeric>

namespace syntonon {
namespace {

constexpr int places = 40;      // looked at in a column
constexpr std::size_t best = 3; // of them searched around, on either side
constexpr int steps = 12;       // of the search
constexpr double golden = 1 / std::numbers::phi;

struct Range {
    double least = infinity, most = -infinity;

    void take(double value) { // a NaN is neither
        least = value < least ? value : least;
        most = value > most ? value : most;
    }
    void put_into(LeastAndMost& columns) const {
        columns.least.push_back(least);
        columns.most.push_back(most);
    }
};

class Column {
public:
    Column(const Prober& prober, double ripple_hz, double sample_rate_hz)
        : prober_(prober), ripple_hz_(ripple_hz), rate_(sample_rate_hz) {}

    void look(double low_hz, double high_hz, RippleBand& band) {
        low_hz_ = low_hz;
        high_hz_ = high_hz;
        power_ = phase_ = delay_ = {};
        std::array<Seen, places> seen{};
        for (int i = 0; i < places; ++i) {
            const double part = std::fmod((i + 0.5) * golden, 1.0);
            const double hz = low_hz + part * (high_hz - low_hz);
            const FilterValue value = at(hz);
            phase_.take(std::arg(value.h));
            seen[static_cast<std::size_t>(i)] = {hz, std::norm(value.h)};
        }
        std::ranges::sort(seen, {}, &Seen::hz);
        search_from_best(seen, 1);
        search_from_best(seen, -1);
        band.frequency_hz.push_back((low_hz + high_hz) / 2);
        band.magnitude_db.least.push_back(db_from_power(power_.least));
        band.magnitude_db.most.push_back(db_from_power(power_.most));
        phase_.put_into(band.phase_rad);
        delay_.put_into(band.group_delay_samples);
    }

private:
    struct Seen {
        double hz, power;
    };

    FilterValue at(double hz) {
        const FilterValue value = prober_.value(circle_point(std::min(hz, rate_ / 2), rate_));
        power_.take(std::norm(value.h));
        delay_.take(group_delay_samples(value));
        return value;
    }

    // From the highest (sign 1) or lowest that stand out from their neighbours: two beside one
    // another belong to one ripple.
    void search_from_best(const std::array<Seen, places>& seen, double sign) {
        std::array<Seen, places> out{};
        std::size_t count = 0;
        for (std::size_t i = 0; i < seen.size(); ++i) {
            const double here = sign * seen[i].power;
            const bool before = i == 0 || here >= sign * seen[i - 1].power;
            const bool after = i + 1 == seen.size() || here >= sign * seen[i + 1].power;
            if (before && after) {
                out[count++] = seen[i];
            }
        }
        const auto end = out.begin() + static_cast<std::ptrdiff_t>(count);
        std::sort(out.begin(), end,
                  [sign](const Seen& a, const Seen& b) { return sign * a.power > sign * b.power; });
        for (std::size_t i = 0; i < std::min(count, best); ++i) {
            search(out[i].hz, sign);
        }
    }

    // Uphill (sign 1) or downhill to where the level turns, within a ripple and the column.
    void search(double hz, double sign) {
        const auto rise = [&](double f) { return rise_of(at(f), sign > 0); };
        const bool is_above = sign * rise(hz) > 0;
        const double end = is_above ? std::min(hz + ripple_hz_ / 2, high_hz_)
                                    : std::max(hz - ripple_hz_ / 2, low_hz_);
        const double near = ripple_hz_ * 1e-6;
        is_above ? false_position(rise, hz, end, near, steps)
                 : false_position(rise, end, hz, near, steps);
    }

    const Prober& prober_;
    double ripple_hz_, rate_;
    double low_hz_ = 0, high_hz_ = 0; // of the column
    Range power_, phase_, delay_;
};

// Whether value runs through column i upwards: from the top of the one before, to the bottom of the
// next. The ends are looked at near by only, so some difference is allowed.
bool runs_up(const std::vector<double>& least, const std::vector<double>& most, std::size_t i) {
    constexpr double apart = 0.15; // of both columns' ranges
    const auto meet = [&](std::size_t a, std::size_t b) {
        const double ranges = (most[a] - least[a]) + (most[b] - least[b]);
        return std::abs(least[b] - most[a]) <= apart * ranges;
    };
    return (i == 0 || meet(i - 1, i)) && (i + 1 == least.size() || meet(i, i + 1));
}

LeastAndMost without_runs(const LeastAndMost& band) {
    LeastAndMost narrowed = band;
    std::vector<double> down_least, down_most; // upside down
    for (std::size_t i = 0; i < band.least.size(); ++i) {
        down_least.push_back(-band.most[i]);
        down_most.push_back(-band.least[i]);
    }
    for (std::size_t i = 0; band.least.size() > 1 && i < band.least.size(); ++i) {
        if (runs_up(band.least, band.most, i) || runs_up(down_least, down_most, i)) {
            narrowed.least[i] = narrowed.most[i] = std::midpoint(band.least[i], band.most[i]);
        }
    }
    return narrowed;
}

} // namespace

RippleBand without_runs(RippleBand band) {
    band.magnitude_db = without_runs(band.magnitude_db);
    band.phase_rad = without_runs(band.phase_rad);
    band.group_delay_samples = without_runs(band.group_delay_samples);
    return band;
}

double rippling_from_hz(const Filter& filter, const EvenSpacing& spacing, double sample_rate_hz) {
    const double half_ripple = sample_rate_hz / (2 * std::max(filter.rippling_samples(), 1.0));
    const double steps_in_all = static_cast<double>(spacing.count - 1);
    if (!spacing.is_logarithmic) {
        const double step = (spacing.high_hz - spacing.low_hz) / steps_in_all;
        return step < half_ripple ? spacing.high_hz : spacing.low_hz;
    }
    const double ratio = std::pow(spacing.high_hz / spacing.low_hz, 1 / steps_in_all);
    return std::clamp(half_ripple / (ratio - 1), spacing.low_hz, spacing.high_hz);
}

RippleBand ripple_band(const Filter& filter, const EvenSpacing& spacing, double sample_rate_hz) {
    RippleBand band;
    const double from = rippling_from_hz(filter, spacing, sample_rate_hz);
    const auto prober = filter.prober();
    Column column(*prober, sample_rate_hz / std::max(filter.rippling_samples(), 1.0),
                  sample_rate_hz);
    for (std::size_t i = 0; i + 1 < spacing.count; ++i) {
        const double low = std::max(spacing.at(i), from), high = spacing.at(i + 1);
        if (low < high) {
            column.look(low, high, band);
        }
    }
    return band;
}

} // namespace syntonon
