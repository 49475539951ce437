// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/corridor.h"

#include "core/base/number_text.h"
#include "core/filter/axis.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::optional<double> side_at(const std::optional<double>& side, const std::optional<double>& to,
                              const CorridorRange& range, double hz) {
    if (!side || !to) {
        return side;
    }
    const double within = std::clamp(hz, range.from_hz, range.to_hz);
    return std::lerp(*side, *to,
                     std::log(within / range.from_hz) / std::log(range.to_hz / range.from_hz));
}

// How a file names the four numbers.
struct SideNames {
    const char *above, *below, *above_to, *below_to;
};
SideNames names_of(const CorridorRange& range) {
    return range.absolute ? SideNames{"upper_db", "lower_db", "upper_to_db", "lower_to_db"}
                          : SideNames{"above_db", "below_db", "above_to_db", "below_to_db"};
}

Expected<void> check_slopes(const CorridorRange& range) {
    const SideNames names = names_of(range);
    for (const auto& [side, to, name, name_to] :
         {std::tuple{range.above_db, range.above_to_db, names.above, names.above_to},
          {range.below_db, range.below_to_db, names.below, names.below_to}}) {
        if (!to) {
            continue;
        }
        if (!std::isfinite(*to)) {
            return refuse(name_to, "the tolerance is not a finite number", "give dB");
        }
        if (!side) {
            return refuse(name_to, "the side slopes from nothing", fmt::format("give {}", name));
        }
        if (!(range.from_hz > 0)) {
            return refuse(name_to, "a side that slopes over log frequency cannot begin at 0 Hz",
                          "begin the range higher");
        }
    }
    return {};
}

Expected<void> check_range(const CorridorRange& range) {
    if (!(range.from_hz >= 0) || !std::isfinite(range.from_hz)) {
        return refuse("from_hz", fmt::format("{} Hz is not a frequency", range.from_hz),
                      "give 0 Hz or more");
    }
    if (!(range.to_hz > range.from_hz) || !std::isfinite(range.to_hz)) {
        return refuse("to_hz",
                      fmt::format("{} Hz is not above {} Hz, so the range is empty", range.to_hz,
                                  range.from_hz),
                      "give a higher frequency");
    }
    const SideNames names = names_of(range);
    if (!range.above_db && !range.below_db) {
        return refuse(names.above, "the range is open on both sides",
                      fmt::format("give {}, {} or both", names.above, names.below));
    }
    if ((range.above_db && !std::isfinite(*range.above_db))
        || (range.below_db && !std::isfinite(*range.below_db))) {
        return refuse("above_db", "the tolerance is not a finite number", "give dB");
    }
    if (auto ok = check_slopes(range); !ok) {
        return ok;
    }
    for (const double hz : {range.from_hz, range.to_hz}) {
        const auto above = above_db_at(range, hz), below = below_db_at(range, hz);
        if (above && below && *above + *below <= 0) {
            return refuse(hz == range.to_hz && range.above_to_db ? names.above_to : names.above,
                          fmt::format("the upper edge ({:+.4g} dB) is not above the lower one "
                                      "({:+.4g} dB), so nothing can stay between them",
                                      *above, -*below),
                          "raise the upper edge or lower the lower one");
        }
    }
    return {};
}

} // namespace

std::optional<double> above_db_at(const CorridorRange& range, double hz) {
    return side_at(range.above_db, range.above_to_db, range, hz);
}

std::optional<double> below_db_at(const CorridorRange& range, double hz) {
    return side_at(range.below_db, range.below_to_db, range, hz);
}

bool slopes(const CorridorRange& range) {
    return range.above_to_db || range.below_to_db;
}

Expected<void> check(const Corridor& corridor) {
    for (std::size_t i = 0; i < corridor.size(); ++i) {
        if (auto ok = check_range(corridor[i]); !ok) {
            return tl::unexpected(within(fmt::format("[{}]", i), ok.error()));
        }
    }
    return {};
}

std::string range_text(double from_hz, double to_hz) {
    if (to_hz >= greatest_analog_hz) { // as good as no end
        return fmt::format("from {}", frequency_text(from_hz, 4));
    }
    return frequency_range_text(from_hz, to_hz, 4);
}

} // namespace syntonon
