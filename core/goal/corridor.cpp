// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/corridor.h"

#include "core/base/number_text.h"
#include "core/filter/axis.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

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
    if (!range.above_db && !range.below_db) {
        return refuse(range.absolute ? "upper_db" : "above_db", "the range is open on both sides",
                      range.absolute ? "give upper_db, lower_db or both"
                                     : "give above_db, below_db or both");
    }
    if ((range.above_db && !std::isfinite(*range.above_db))
        || (range.below_db && !std::isfinite(*range.below_db))) {
        return refuse("above_db", "the tolerance is not a finite number", "give dB");
    }
    if (range.above_db && range.below_db && *range.above_db + *range.below_db <= 0) {
        return refuse(range.absolute ? "upper_db" : "above_db",
                      fmt::format("the upper edge ({:+.4g} dB) is not above the lower one ({:+.4g} "
                                  "dB), so nothing can stay between them",
                                  *range.above_db, -*range.below_db),
                      "raise the upper edge or lower the lower one");
    }
    return {};
}

} // namespace

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
    const bool kilo = to_hz >= 1000;
    const double unit = kilo ? 1000 : 1;
    return fmt::format("{:.4g}–{:.4g} {}", from_hz / unit, to_hz / unit, kilo ? "kHz" : "Hz");
}

} // namespace syntonon
