// Input, outputs and reference have the same colours in all pictures of the bench.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"

#include <QColor>

namespace syntonon {

// Waveforms and spectrum stand below one another.
inline constexpr int bench_left = 60, bench_right = 24;

// Takes have the colours of their curves on the lanes, other channels their own.
QColor colour_of(const BenchWork& bench, Track track);

} // namespace syntonon
