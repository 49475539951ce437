// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/requirement.h"

#include "core/base/number_text.h"
#include "core/goal/corridor.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<void> check_number(const char* field, double value) {
    if (!std::isfinite(value)) {
        return refuse(field, "is not a finite number", "give a number");
    }
    return {};
}

Expected<void> check_not_negative(const char* field, double value) {
    if (!(value >= 0) || !std::isfinite(value)) {
        return refuse(field, fmt::format("{} is negative or no number", value), "give 0 or more");
    }
    return {};
}

Expected<void> check_range(double from_hz, double to_hz) {
    if (auto ok = check_not_negative("from_hz", from_hz); !ok) {
        return ok;
    }
    if (!(to_hz > from_hz) || !std::isfinite(to_hz)) {
        return refuse(
            "to_hz", fmt::format("{} Hz is not above {} Hz, so the range is empty", to_hz, from_hz),
            "give a higher frequency");
    }
    return {};
}

Expected<void> first_of(Expected<void> first, Expected<void> second) {
    return first ? second : first;
}

struct Checker {
    Expected<void> operator()(const RippleRequirement& r) const {
        return first_of(check_range(r.from_hz, r.to_hz), check_not_negative("max_db", r.max_db));
    }
    Expected<void> operator()(const AttenuationRequirement& r) const {
        return first_of(check_range(r.from_hz, r.to_hz), check_number("min_db", r.min_db));
    }
    Expected<void> operator()(const LevelRequirement& r) const {
        if (!r.min_db && !r.max_db) {
            return refuse("min_db", "the level is open on both sides",
                          "give min_db, max_db or both");
        }
        if (r.min_db && r.max_db && !(*r.min_db <= *r.max_db)) {
            return refuse(
                "max_db",
                fmt::format("{} dB at most lies under {} dB at least", *r.max_db, *r.min_db),
                "no level can meet both: change one");
        }
        return first_of(check_not_negative("at_hz", r.at_hz),
                        first_of(check_number("min_db", r.min_db.value_or(0)),
                                 check_number("max_db", r.max_db.value_or(0))));
    }
    Expected<void> operator()(const CrossingRequirement& r) const {
        if (!(r.min_hz > 0) || !(r.max_hz >= r.min_hz) || !std::isfinite(r.max_hz)) {
            return refuse("max_hz",
                          fmt::format("{} Hz to {} Hz is not a range", r.min_hz, r.max_hz),
                          "give a lower and a higher frequency");
        }
        return check_number("level_db", r.level_db);
    }
    Expected<void> operator()(const GroupDelayRequirement& r) const {
        return first_of(check_range(r.from_hz, r.to_hz),
                        first_of(check_number("value_samples", r.value_samples),
                                 check_not_negative("tolerance_samples", r.tolerance_samples)));
    }
    Expected<void> operator()(const PeakGainRequirement& r) const {
        return check_number("max_db", r.max_db);
    }
    Expected<void> operator()(const LatencyRequirement& r) const {
        return check_not_negative("max_samples", r.max_samples);
    }
    Expected<void> operator()(const StabilityRequirement& r) const {
        return check_number("min_margin", r.min_margin);
    }
    Expected<void> operator()(const SectionsRequirement& r) const {
        return check_not_negative("max_sections", r.max_sections);
    }
    Expected<void> operator()(const UnknownRequirement&) const { return {}; }
};

struct Titles {
    std::string operator()(const RippleRequirement& r) const {
        return "ripple " + range_text(r.from_hz, r.to_hz);
    }
    std::string operator()(const AttenuationRequirement& r) const {
        return "attenuation " + range_text(r.from_hz, r.to_hz);
    }
    std::string operator()(const LevelRequirement& r) const {
        return "level at " + frequency_text(r.at_hz);
    }
    std::string operator()(const CrossingRequirement& r) const {
        return fmt::format("crossing of {:.4g} dB", r.level_db);
    }
    std::string operator()(const GroupDelayRequirement& r) const {
        return "group delay " + range_text(r.from_hz, r.to_hz);
    }
    std::string operator()(const PeakGainRequirement&) const { return "peak gain"; }
    std::string operator()(const LatencyRequirement&) const { return "latency"; }
    std::string operator()(const StabilityRequirement&) const { return "stability margin"; }
    std::string operator()(const SectionsRequirement&) const { return "sections"; }
    std::string operator()(const UnknownRequirement& r) const { return r.its_kind; }
};

} // namespace

Expected<void> check(const Requirement& requirement) {
    return std::visit(Checker{}, requirement.spec);
}

std::string title_of(const Requirement& requirement) {
    return std::visit(Titles{}, requirement.spec);
}

} // namespace syntonon
