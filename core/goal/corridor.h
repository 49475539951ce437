// The region that a curve must stay in.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// From one frequency to another, at most `above_db` over the target and `below_db` under it; an
// absolute range counts both from 0 dB, whatever the target. A side that is left out is open; one
// of them must be there. A side that slopes is that at `from_hz` and its `_to_db` at `to_hz`, and
// straight over log frequency between.
struct CorridorRange {
    double from_hz = 100;
    double to_hz = 10000;
    std::optional<double> above_db = 2;
    std::optional<double> below_db = 2;
    bool absolute = false;
    std::optional<double> above_to_db = {}, below_to_db = {};
    UnknownKeys unknown = {};

    bool operator==(const CorridorRange&) const = default;
};

using Corridor = std::vector<CorridorRange>;

// At a frequency, taken into the range; nothing where the side is open.
std::optional<double> above_db_at(const CorridorRange& range, double hz);
std::optional<double> below_db_at(const CorridorRange& range, double hz);
bool slopes(const CorridorRange& range);

// Refuses empty and reversed ranges, edges that cross or meet (above + below <= 0) or are not
// finite, ranges that leave both sides open, and sides that slope from 0 Hz on or from nothing; the
// place is "[1].to_hz".
Expected<void> check(const Corridor& corridor);

// "40–250 Hz", "0.25–16 kHz".
std::string range_text(double from_hz, double to_hz);

} // namespace syntonon
