// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/target.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<void> check_order(const char* field, double low_hz, double high_hz) {
    if (!(high_hz >= low_hz) || !std::isfinite(high_hz)) {
        return refuse(field, fmt::format("{} Hz lies below {} Hz", high_hz, low_hz),
                      "give a higher frequency");
    }
    return {};
}

Expected<void> check_house(const HouseCurve& house) {
    if (!(house.low_limit_hz > 0) || !std::isfinite(house.low_limit_hz)) {
        return refuse("low_limit_hz", fmt::format("{} Hz is not positive", house.low_limit_hz),
                      "give a frequency above 0");
    }
    if (auto ok = check_order("rise_below_hz", house.low_limit_hz, house.rise_below_hz); !ok) {
        return ok;
    }
    if (auto ok = check_order("fall_above_hz", house.rise_below_hz, house.fall_above_hz); !ok) {
        return ok;
    }
    if (auto ok = check_order("high_limit_hz", house.fall_above_hz, house.high_limit_hz); !ok) {
        return ok;
    }
    for (const auto& [field, value] : {std::pair{"level_db", house.level_db},
                                       {"rise_db_per_octave", house.rise_db_per_octave},
                                       {"fall_db_per_octave", house.fall_db_per_octave}}) {
        if (!std::isfinite(value)) {
            return refuse(field, "is not a finite number", "give a number");
        }
    }
    return {};
}

Expected<void> check_source(const TargetSource& source) {
    constexpr double widest_oct = 3;
    if (!(source.smoothing_oct >= 0 && source.smoothing_oct <= widest_oct)) {
        return refuse("smoothing_oct",
                      fmt::format("{} octaves is no width of smoothing", source.smoothing_oct),
                      fmt::format("give 0 to {} octaves", widest_oct));
    }
    return {};
}

Expected<void> check_anchor(const LevelAnchor& anchor) {
    if (!std::isfinite(anchor.offset_db)) {
        return refuse("offset_db", "is not a finite number", "give dB");
    }
    if (anchor.kind != LevelAnchor::Kind::fixed
        && (!(anchor.from_hz >= 0) || !(anchor.to_hz > anchor.from_hz)
            || !std::isfinite(anchor.to_hz))) {
        return refuse("to_hz",
                      fmt::format("{} Hz is not above {} Hz, so the range is empty", anchor.to_hz,
                                  anchor.from_hz),
                      "give a higher frequency");
    }
    return {};
}

Expected<void> placed(const char* place, Expected<void> result) {
    return result ? result : tl::unexpected(within(place, result.error()));
}

constexpr std::array source_keys = {"curve", "channel", "take", "stage"};
constexpr std::array anchor_keys = {"fixed", "measured_average", "lowest_measured",
                                    "common_average"};

} // namespace

TargetLine line_of(const HouseCurve& house) {
    const double low =
        house.level_db
        + house.rise_db_per_octave * std::log2(house.rise_below_hz / house.low_limit_hz);
    const double high =
        house.level_db
        - house.fall_db_per_octave * std::log2(house.high_limit_hz / house.fall_above_hz);
    TargetLine line;
    const auto add = [&](double hz, double level) {
        if (line.points.empty() || line.points.back().frequency_hz < hz) {
            line.points.push_back({hz, level, {}});
        }
    };
    add(house.low_limit_hz, low);
    add(house.rise_below_hz, house.level_db);
    add(house.fall_above_hz, house.level_db);
    add(house.high_limit_hz, high);
    return line;
}

bool is_stated(const Target& target) {
    // An anchor alone states a level that is the same everywhere.
    return !target.points.empty() || target.house || target.source
           || target.anchor != LevelAnchor{};
}

Expected<void> check(const Target& target) {
    const int forms =
        (target.points.empty() ? 0 : 1) + (target.house ? 1 : 0) + (target.source ? 1 : 0);
    if (forms > 1) {
        return refuse("", "is stated in more than one way", "keep one of points, house and source");
    }
    if (auto ok = check(target, "magnitude_db"); !ok) {
        return ok;
    }
    if (target.house) {
        if (auto ok = placed("house", check_house(*target.house)); !ok) {
            return ok;
        }
    }
    if (target.source) {
        if (auto ok = placed("source", check_source(*target.source)); !ok) {
            return ok;
        }
    }
    return placed("anchor", check_anchor(target.anchor));
}

std::string_view key_of(TargetSource::Kind kind) {
    return source_keys.at(static_cast<std::size_t>(kind));
}

std::string_view key_of(LevelAnchor::Kind kind) {
    return anchor_keys.at(static_cast<std::size_t>(kind));
}

} // namespace syntonon
