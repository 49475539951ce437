// What is wished, read at single frequencies.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/brief.h"

#include <cstddef>
#include <optional>

namespace syntonon {

// At one frequency; what is absent in one place of a part is so in all of it.
struct Asked {
    double hz;
    std::optional<double> level_db, lower_db, upper_db;
    double weight;
};

Asked asked_at(const WishedPart& part, std::size_t i);
// The share of the way from one to the other: straight in dB and in log weight over log frequency
// (from 0 Hz over frequency).
Asked between(const Asked& a, const Asked& b, double share);
// Nothing where no part is. Where one ends and the next begins it is the next.
std::optional<Asked> asked_at(const Wished& wished, double hz);

} // namespace syntonon
