// Input, output and reference have the same colours in all pictures of the bench.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/widgets/theme.h"

namespace syntonon {

// Waveforms and spectrum stand below one another.
inline constexpr int bench_left = 60, bench_right = 24;

inline QColor colour_of(Track track) {
    switch (track) {
    case Track::in:
        return theme().measured;
    case Track::out:
        return theme().ink;
    case Track::reference:
        return theme().corridor_edge;
    case Track::difference:
        break;
    }
    return theme().plum;
}

inline QString word_for(Track track) {
    switch (track) {
    case Track::in:
        return BenchWork::tr("in");
    case Track::out:
        return BenchWork::tr("out");
    case Track::reference:
        return BenchWork::tr("reference");
    case Track::difference:
        break;
    }
    return BenchWork::tr("difference");
}

} // namespace syntonon
