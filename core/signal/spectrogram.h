// The density of a signal over time and frequency, as many cells as there is room to draw.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

struct SpectrogramShape {
    std::size_t columns = 300, rows = 120;
    double from_hz = 20, to_hz = 20000; // the lowest row's lower and the highest row's upper edge
    std::size_t length = 4096;          // of one transform
};

struct Spectrogram {
    SpectrogramShape shape;
    std::vector<float> db; // density, by columns, from the lowest row up; -200 for silence

    float at(std::size_t column, std::size_t row) const { return db[column * shape.rows + row]; }
};

// Columns are equally long, rows in equal ratios; a cell is the mean power within. Empty when the
// watch is stopped.
Spectrogram spectrogram_of(std::span<const double> signal, double sample_rate_hz,
                           const SpectrogramShape& shape, const Watch& watch = {});

} // namespace syntonon
