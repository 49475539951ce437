// Level and phase of H all over the plane, not only on the circle.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/roots.h"

#include <cstddef>
#include <vector>

namespace syntonon {

// Points row by row from the top left on: left + i step, j (top - k step); in rad/s in the s-plane.
struct PlaneGrid {
    double left = 0, top = 0, step = 1;
    std::size_t columns = 0, rows = 0;

    bool operator==(const PlaneGrid&) const = default;
};

// 20 log10 |H| to about 0.01 dB, kept within ±600 dB: for pictures. Rows that mirror one another in
// the real axis are worked out once.
std::vector<float> level_db_over(const Roots& roots, const PlaneGrid& grid);
// The angle of H in rad, within ±pi.
std::vector<float> phase_rad_over(const Roots& roots, const PlaneGrid& grid);

} // namespace syntonon
