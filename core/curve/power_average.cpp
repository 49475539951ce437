// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/power_average.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <iterator>

namespace syntonon {
namespace {

Expected<std::vector<WeightedCurve>> those_that_count(std::span<const WeightedCurve> curves) {
    std::vector<WeightedCurve> counting;
    for (std::size_t i = 0; i < curves.size(); ++i) {
        if (!(curves[i].weight >= 0) || !std::isfinite(curves[i].weight)) {
            return refuse(fmt::format("[{}].weight", i),
                          fmt::format("{} is not a weight", curves[i].weight),
                          "give a finite number that is not negative");
        }
        if (curves[i].weight > 0) {
            counting.push_back(curves[i]);
        }
    }
    if (counting.empty()) {
        return refuse("", "no curve has any weight", "give one of them a weight above 0");
    }
    return counting;
}

// Every frequency that a curve gives within what all of them give.
std::vector<double> shared_frequencies(std::span<const WeightedCurve> curves) {
    double low = 0, high = infinity;
    for (const WeightedCurve& one : curves) {
        low = std::max(low, one.curve->low_hz());
        high = std::min(high, one.curve->high_hz());
    }
    std::vector<double> shared;
    for (const WeightedCurve& one : curves) {
        std::ranges::copy_if(one.curve->frequency_hz, std::back_inserter(shared),
                             [&](double hz) { return hz >= low && hz <= high; });
    }
    std::ranges::sort(shared);
    shared.erase(std::unique(shared.begin(), shared.end()), shared.end());
    return shared;
}

} // namespace

Expected<Curve> power_average(std::span<const WeightedCurve> curves) {
    const auto counting = those_that_count(curves);
    if (!counting) {
        return tl::unexpected(counting.error());
    }
    if (counting->size() == 1) {
        return *counting->front().curve;
    }
    Curve average;
    average.frequency_hz = shared_frequencies(*counting);
    if (average.frequency_hz.empty()) {
        return refuse("", "the curves have no frequencies in common",
                      "leave out those that reach elsewhere");
    }
    std::vector<CurveReader> readers;
    double weights = 0;
    for (const WeightedCurve& one : *counting) {
        readers.emplace_back(*one.curve);
        weights += one.weight;
    }
    for (const double hz : average.frequency_hz) {
        // Relative to the loudest, so that no power overflows.
        double loudest = -infinity, power = 0;
        for (const CurveReader& reader : readers) {
            loudest = std::max(loudest, reader.magnitude_db_at(hz));
        }
        for (std::size_t i = 0; i < readers.size(); ++i) {
            power += (*counting)[i].weight / weights
                     * std::pow(10, (readers[i].magnitude_db_at(hz) - loudest) / 10);
        }
        average.magnitude_db.push_back(loudest + 10 * std::log10(power));
    }
    return average;
}

} // namespace syntonon
