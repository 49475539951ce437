// Input, output and reference have the same colours in all pictures of the bench.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/widgets/theme.h"

namespace syntonon {

// Waveforms and spectrum stand below one another.
inline constexpr int bench_left = 60, bench_right = 24;

inline QColor colour_of(Track track) {
    return track == Track::in    ? theme().measured
           : track == Track::out ? theme().ink
                                 : theme().corridor_edge;
}

} // namespace syntonon
