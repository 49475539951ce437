// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/spectrogram.h"

#include "core/base/units.h"
#include "core/math/fft.h"
#include "core/math/window.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numeric>

namespace syntonon {
namespace {

// The bins whose power is a row's: from <= k < to, at least the nearest one.
struct RowBins {
    std::size_t from, to;
};

std::vector<RowBins> bins_of_rows(const SpectrogramShape& shape, double step_hz, std::size_t bins) {
    std::vector<RowBins> rows;
    const double ratio = shape.to_hz / shape.from_hz;
    const auto edge = [&](std::size_t row) {
        return shape.from_hz
               * std::pow(ratio, static_cast<double>(row) / static_cast<double>(shape.rows));
    };
    for (std::size_t row = 0; row < shape.rows; ++row) {
        const double low = edge(row) / step_hz, high = edge(row + 1) / step_hz;
        auto from = static_cast<std::size_t>(std::ceil(low));
        auto to = static_cast<std::size_t>(std::ceil(high));
        if (from >= to) { // rows finer than bins
            from = static_cast<std::size_t>(std::lround((low + high) / 2));
            to = from + 1;
        }
        rows.push_back({std::min(from, bins - 1), std::min(to, bins)});
    }
    return rows;
}

} // namespace

Spectrogram spectrogram_of(std::span<const double> signal, double sample_rate_hz,
                           const SpectrogramShape& shape, const Watch& watch) {
    Spectrogram made{shape, {}};
    if (signal.empty()) {
        return made;
    }
    constexpr float silence_db = -200;
    const std::vector<double> window = window_values({WindowShape::hann, 0, {}}, shape.length);
    const double squares = std::inner_product(window.begin(), window.end(), window.begin(), 0.0);
    const double factor = 4 / (sample_rate_hz * squares);
    RealFft fft(shape.length);
    const auto rows = bins_of_rows(shape, sample_rate_hz / static_cast<double>(shape.length),
                                   fft.spectrum().size());
    made.db.reserve(shape.columns * shape.rows);
    const double hop = static_cast<double>(signal.size()) / static_cast<double>(shape.columns);
    for (std::size_t column = 0; column < shape.columns; ++column) {
        if (watch.is_stopped()) {
            return {shape, {}};
        }
        const auto middle = static_cast<std::ptrdiff_t>((static_cast<double>(column) + 0.5) * hop);
        const std::ptrdiff_t start = middle - static_cast<std::ptrdiff_t>(shape.length / 2);
        for (std::size_t n = 0; n < shape.length; ++n) {
            const std::ptrdiff_t at = start + static_cast<std::ptrdiff_t>(n);
            const bool is_there = at >= 0 && at < static_cast<std::ptrdiff_t>(signal.size());
            fft.signal()[n] = is_there ? signal[static_cast<std::size_t>(at)] * window[n] : 0;
        }
        fft.to_spectrum();
        for (const RowBins& bins : rows) {
            double power = 0;
            for (std::size_t k = bins.from; k < bins.to; ++k) {
                power += std::norm(fft.spectrum()[k]);
            }
            power *= factor / static_cast<double>(std::max<std::size_t>(bins.to - bins.from, 1));
            made.db.push_back(std::max(silence_db, static_cast<float>(db_from_power(power))));
        }
    }
    return made;
}

} // namespace syntonon
