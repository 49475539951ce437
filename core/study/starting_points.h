// Networks to start from: ordinary stages, to be changed at will.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/stage.h"

#include <string>
#include <vector>

namespace syntonon {

struct StartingPoint {
    std::string title; // "Phaser"
    std::string words; // what it is, in one line
    Chain stages;      // ids are fresh within them only; see give_fresh_ids
};

// In the order in which they are offered. Equations: S. K. Mitra, Digital Signal Processing, 2nd
// ed. (combs, moving average, all-pass complementary pairs: sections 4.4, 4.9, 4.10); P. A. Regalia
// and S. K. Mitra, Tunable digital frequency response equalization filters, IEEE Trans. ASSP 35,
// 1987 (bell and shelf from an all-pass); S. Linkwitz, Active crossover networks for noncoincident
// drivers, J. AES 24, 1976 (low- and high-pass that make an all-pass).
std::vector<StartingPoint> starting_points();

} // namespace syntonon
