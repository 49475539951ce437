// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/trace.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <span>
#include <utility>

namespace syntonon {
namespace {

// Between the last two points, where a linear grid is closest in ratio.
double grid_ratio(const FrequencyGrid& grid) {
    return grid.frequency_hz()[grid.size() - 1] / grid.frequency_hz()[grid.size() - 2];
}

// Between neighbours of what is drawn more would not be seen.
constexpr double most_drawn_ripples = 1024;
constexpr int most_drawn_halvings = 10;   // to a notch about 60 dB below its lobes
constexpr std::size_t most_columns = 300; // of a band

// Of the whole axis those that the phase was followed by, as far as they can be told apart; else
// looked for.
std::vector<double> places_between(const Filter& chain, const TellingRange& range) {
    constexpr double whole_axis_ratio = 1.003; // of its grid; a closer look has a finer one
    const auto followed =
        range.grid_ratio > whole_axis_ratio ? chain.followed_hz(range.axis) : std::vector<double>();
    if (followed.empty()) {
        return chain.telling_hz(range);
    }
    const double apart = (range.grid_ratio - 1) / std::exp2(most_drawn_halvings);
    std::vector<double> places;
    for (const double hz : followed) {
        const bool is_in = hz >= range.low_hz && hz <= range.high_hz;
        if (is_in && (places.empty() || hz > places.back() * (1 + apart))) {
            places.push_back(hz);
        }
    }
    return places;
}

// The chain at the points that tell more than the grid does, which move with every drag and so are
// not kept; and the band where there would be too many of them.
Trace between_points(const Filter& chain, const FrequencyGrid& drawing, bool linear) {
    const auto frequencies = drawing.frequency_hz();
    const Axis& axis = drawing.axis();
    TellingRange range{std::max(frequencies.front(), frequencies.back() * 1e-9),
                       frequencies.back(),
                       grid_ratio(drawing),
                       axis,
                       most_drawn_ripples,
                       most_drawn_halvings};
    Trace trace;
    if (ripples_too_often(chain.rippling_samples(), range)) {
        const EvenSpacing columns{!linear, frequencies.front(), frequencies.back(),
                                  std::min(drawing.size(), most_columns)};
        range.high_hz = rippling_from_hz(chain, columns, axis.sample_rate_hz);
        trace.band = without_runs(ripple_band(chain, columns, axis.sample_rate_hz));
    }
    if (!(range.low_hz < range.high_hz)) {
        return trace;
    }
    const auto grid = FrequencyGrid::from_frequencies(places_between(chain, range), axis);
    if (grid) {
        trace.frequency_hz.assign(grid->frequency_hz().begin(), grid->frequency_hz().end());
        trace.response = chain.response(*grid);
    }
    return trace;
}

void append_point(Trace& to, const Response& from, double hz, std::size_t i) {
    to.frequency_hz.push_back(hz);
    to.response.magnitude_db.push_back(from.magnitude_db[i]);
    to.response.phase_rad.push_back(from.phase_rad[i]);
    to.response.group_delay_samples.push_back(from.group_delay_samples[i]);
}

Trace merged(std::span<const double> grid_hz, const Response& on_grid, Trace extra) {
    Trace all;
    all.band = std::move(extra.band);
    std::size_t k = 0;
    for (std::size_t i = 0; i < grid_hz.size(); ++i) {
        for (; k < extra.frequency_hz.size() && extra.frequency_hz[k] < grid_hz[i]; ++k) {
            append_point(all, extra.response, extra.frequency_hz[k], k);
        }
        if (k < extra.frequency_hz.size() && extra.frequency_hz[k] == grid_hz[i]) {
            ++k;
        }
        append_point(all, on_grid, grid_hz[i], i);
    }
    return all;
}

} // namespace

Trace trace_of(const Filter& chain, const Response& on_grid, const FrequencyGrid& grid) {
    return merged(grid.frequency_hz(), on_grid, between_points(chain, grid, false));
}

Trace detail_of(const Filter& chain, double low_hz, double high_hz, std::size_t points, bool linear,
                const Axis& axis) {
    const double low = std::max(low_hz, linear ? 0.0 : high_hz * 1e-9);
    const double high = std::min(high_hz, axis.end_hz());
    Trace trace;
    if (!(low < high)) {
        return trace;
    }
    auto grid = linear ? FrequencyGrid::linear(low, high, points, axis)
                       : FrequencyGrid::logarithmic(low, high, points, axis);
    if (!grid) {
        return trace;
    }
    return merged(grid->frequency_hz(), chain.response(*grid),
                  between_points(chain, *grid, linear));
}

LevelTrace prediction_of(const Trace& total, const CurveReader* measured) {
    LevelTrace predicted;
    for (std::size_t i = 0; i < total.frequency_hz.size(); ++i) {
        const double hz = total.frequency_hz[i];
        if (measured == nullptr || measured->covers(hz)) {
            predicted.frequency_hz.push_back(hz);
            predicted.level_db.push_back(
                total.response.magnitude_db[i]
                + (measured != nullptr ? measured->magnitude_db_at(hz) : 0.0));
        }
    }
    const RippleBand& band = total.band;
    for (std::size_t i = 0; i < band.frequency_hz.size(); ++i) {
        const double hz = band.frequency_hz[i];
        if (measured == nullptr || measured->covers(hz)) {
            const double own = measured != nullptr ? measured->magnitude_db_at(hz) : 0.0;
            predicted.band_hz.push_back(hz);
            predicted.band_db.least.push_back(own + band.magnitude_db.least[i]);
            predicted.band_db.most.push_back(own + band.magnitude_db.most[i]);
        }
    }
    return predicted;
}

} // namespace syntonon
