// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/ripple_band.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numbers>

namespace syntonon {
namespace {

constexpr int places = 40; // looked at in a column
constexpr int best = 2;    // of them searched around, on either side
constexpr int steps = 22;  // of the search
constexpr double golden = 1 / std::numbers::phi;

class Column {
public:
    Column(const Prober& prober, double ripple_hz, double sample_rate_hz)
        : prober_(prober), ripple_hz_(ripple_hz), rate_(sample_rate_hz) {}

    void look(double low_hz, double high_hz, RippleBand& band) {
        least_ = {infinity, infinity, infinity};
        most_ = {-infinity, -infinity, -infinity};
        low_hz_ = low_hz;
        high_hz_ = high_hz;
        std::array<Seen, places> seen{};
        for (int i = 0; i < places; ++i) {
            const double part = std::fmod((i + 0.5) * golden, 1.0);
            const double hz = low_hz + part * (high_hz - low_hz);
            seen[static_cast<std::size_t>(i)] = {hz, at(hz)};
        }
        std::ranges::partial_sort(seen, seen.begin() + best, std::greater<>(), &Seen::level);
        for (std::size_t i = 0; i < best; ++i) {
            search(seen[i].hz, 1);
        }
        std::ranges::partial_sort(seen, seen.begin() + best, std::less<>(), &Seen::level);
        for (std::size_t i = 0; i < best; ++i) {
            search(seen[i].hz, -1);
        }
        band.frequency_hz.push_back(std::sqrt(low_hz * high_hz));
        put(band.magnitude_db, 0);
        put(band.phase_rad, 1);
        put(band.group_delay_samples, 2);
    }

private:
    struct Seen {
        double hz, level;
    };

    double at(double hz) {
        const ResponsePoint here =
            prober_.response(circle_point(std::clamp(hz, 0.0, rate_ / 2), rate_));
        const double values[] = {here.magnitude_db, std::remainder(here.phase_rad, 2 * pi),
                                 here.group_delay_samples};
        for (std::size_t k = 0; k < 3; ++k) {
            least_[k] = values[k] < least_[k] ? values[k] : least_[k]; // a NaN is neither
            most_[k] = values[k] > most_[k] ? values[k] : most_[k];
        }
        return here.magnitude_db;
    }

    // Uphill (sign 1) or downhill within half a ripple on both sides, and within the column.
    void search(double hz, double sign) {
        double low = std::max(hz - ripple_hz_ / 2, low_hz_);
        double high = std::min(hz + ripple_hz_ / 2, high_hz_);
        double a = high - golden * (high - low), b = low + golden * (high - low);
        double at_a = sign * at(a), at_b = sign * at(b);
        for (int i = 0; i < steps; ++i) {
            if (at_a > at_b) {
                high = b;
                b = a, at_b = at_a;
                a = high - golden * (high - low);
                at_a = sign * at(a);
            } else {
                low = a;
                a = b, at_a = at_b;
                b = low + golden * (high - low);
                at_b = sign * at(b);
            }
        }
    }

    void put(LeastAndMost& into, std::size_t k) const {
        into.least.push_back(least_[k]);
        into.most.push_back(most_[k]);
    }

    const Prober& prober_;
    double ripple_hz_, rate_;
    double low_hz_ = 0, high_hz_ = 0; // of the column
    std::array<double, 3> least_{}, most_{};
};

} // namespace

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
