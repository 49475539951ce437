// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/requirement.h"

#include "core/base/number_text.h"
#include "core/goal/corridor.h"
#include "core/goal/requirement_fields.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<void> check_not_negative(std::string_view field, double value) {
    if (!(value >= 0) || !std::isfinite(value)) {
        return refuse(std::string(field), fmt::format("{} is negative or no number", value),
                      "give 0 or more");
    }
    return {};
}

Expected<void> check_positive(std::string_view field, double value) {
    if (!(value > 0) || !std::isfinite(value)) {
        return refuse(std::string(field), fmt::format("{} is not above 0", value),
                      "give a positive number");
    }
    return {};
}

std::string time_key(const char* stem, const Duration& duration) {
    return fmt::format("{}_{}", stem, key_of(duration.unit));
}

Expected<void> first_of(const Expected<void>& first, const Expected<void>& second) {
    return first ? second : first;
}

// What holds for every field of its kind: numbers are finite.
struct FiniteFields {
    Expected<void> result;

    void operator()(const RequirementField& field, double value) {
        if (result && !std::isfinite(value)) {
            result = refuse(field.key, "is not a finite number", "give a number");
        }
    }
    void operator()(const RequirementField& field, const Duration& duration) {
        if (result && !std::isfinite(duration.value)) {
            result =
                refuse(time_key(field.key, duration), "is not a finite number", "give a number");
        }
    }
    void operator()(const RequirementField&, const ChannelIds&) {} // ids, no numbers
    template <class T>
    void operator()(const RequirementField& field, const std::optional<T>& value) {
        if (value) {
            (*this)(field, *value);
        }
    }
};

Expected<void> check_range(double from_hz, double to_hz) {
    if (auto ok = check_not_negative("from_hz", from_hz); !ok) {
        return ok;
    }
    if (!(to_hz > from_hz)) {
        return refuse(
            "to_hz", fmt::format("{} Hz is not above {} Hz, so the range is empty", to_hz, from_hz),
            "give a higher frequency");
    }
    return {};
}

// What holds for one kind beyond that. A range has been checked already.
struct Checker {
    Expected<void> operator()(const RippleRequirement& r) const {
        return check_not_negative("max_db", r.max_db);
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
        return check_not_negative("at_hz", r.at_hz);
    }
    Expected<void> operator()(const CrossingRequirement& r) const {
        if (!(r.min_hz >= 0) || !(r.max_hz >= r.min_hz)) {
            return refuse("max_hz",
                          fmt::format("{} Hz to {} Hz is not a range", r.min_hz, r.max_hz),
                          "give a lower and a higher frequency");
        }
        return {};
    }
    Expected<void> operator()(const TransitionWidthRequirement& r) const {
        if (!(r.stop_db < r.pass_db)) {
            return refuse(
                "stop_db",
                fmt::format("{} dB is not under the pass level ({} dB)", r.stop_db, r.pass_db),
                "give a lower level");
        }
        return check_positive("max_hz", r.max_hz);
    }
    Expected<void> operator()(const GroupDelayRequirement& r) const {
        return check_not_negative(time_key("tolerance", r.tolerance), r.tolerance.value);
    }
    Expected<void> operator()(const PhaseRequirement& r) const {
        return check_not_negative("tolerance_deg", r.tolerance_deg);
    }
    Expected<void> operator()(const SettlingTimeRequirement& r) const {
        return first_of(check_positive("within_percent", r.within_percent), check_time(r.max));
    }
    Expected<void> operator()(const OvershootRequirement& r) const {
        return check_not_negative("max_percent", r.max_percent);
    }
    Expected<void> operator()(const DecayTimeRequirement& r) const {
        return first_of(check_positive("fall_db", r.fall_db), check_time(r.max));
    }
    Expected<void> operator()(const StabilityRequirement& r) const {
        if (r.min_margin > 1) {
            return refuse("min_margin", fmt::format("{} is more than any filter has", r.min_margin),
                          "give at most 1");
        }
        return {};
    }
    Expected<void> operator()(const SectionsRequirement& r) const {
        return check_not_negative("max_sections", r.max_sections);
    }
    Expected<void> operator()(const TapsRequirement& r) const {
        return check_not_negative("max_taps", r.max_taps);
    }
    Expected<void> operator()(const BudgetRequirement& r) const {
        return check_positive("max_percent", r.max_percent);
    }
    Expected<void> operator()(const PreRingingTimeRequirement& r) const {
        if (!(r.threshold_db < 0)) {
            return refuse("threshold_db",
                          fmt::format("{} dB is not under the main peak", r.threshold_db),
                          "give a level below 0 dB");
        }
        return check_time(r.max);
    }
    template <class Spec>
    Expected<void> operator()(const Spec& r) const {
        if constexpr (std::is_same_v<
                          Spec,
                          DelayVariationRequirement> || std::is_same_v<Spec, LatencyRequirement>) {
            return check_time(r.max);
        } else if constexpr (requires { r.with; }) {
            return check_not_negative("max_db", r.max_db);
        }
        return {};
    }

    static Expected<void> check_time(const Duration& duration) {
        return check_not_negative(time_key("max", duration), duration.value);
    }
};

constexpr std::array time_keys = {"samples", "ms", "s"};

} // namespace

std::string_view key_of(TimeUnit unit) {
    return time_keys.at(static_cast<std::size_t>(unit));
}

double samples_of(const Duration& duration, double sample_rate_hz) {
    switch (duration.unit) {
    case TimeUnit::samples:
        return duration.value;
    case TimeUnit::ms:
        return duration.value * 1e-3 * sample_rate_hz;
    case TimeUnit::s:
        return duration.value * sample_rate_hz;
    }
    return duration.value;
}

double from_samples(double samples, TimeUnit unit, double sample_rate_hz) {
    return samples / samples_of({1, unit}, sample_rate_hz);
}

Expected<void> check(const Requirement& requirement) {
    return std::visit(
        [](const auto& spec) -> Expected<void> {
            FiniteFields finite;
            each_field(spec, finite);
            if (!finite.result) {
                return finite.result;
            }
            if constexpr (requires { spec.from_hz; }) {
                if (auto ok = check_range(spec.from_hz, spec.to_hz); !ok) {
                    return ok;
                }
            }
            return Checker{}(spec);
        },
        requirement.spec);
}

std::string title_of(const Requirement& requirement) {
    return std::visit(
        [](const auto& spec) -> std::string {
            using Spec = std::decay_t<decltype(spec)>;
            std::string words(Spec::kind);
            std::ranges::replace(words, '_', ' ');
            if constexpr (std::is_same_v<Spec, UnknownRequirement>) {
                return spec.its_kind;
            } else if constexpr (std::is_same_v<Spec, LevelRequirement>) {
                return "level at " + frequency_text(spec.at_hz);
            } else if constexpr (std::is_same_v<Spec, CrossingRequirement>) {
                return fmt::format("crossing of {:.4g} dB", spec.level_db);
            } else if constexpr (std::is_same_v<Spec, PreRingingRequirement>) {
                return "pre-ringing";
            } else if constexpr (std::is_same_v<Spec, PreRingingTimeRequirement>) {
                return fmt::format("pre-ringing above {:.4g} dB", spec.threshold_db);
            } else if constexpr (std::is_same_v<Spec, SettlingTimeRequirement>) {
                return fmt::format("settling to {:.4g} %", spec.within_percent);
            } else if constexpr (std::is_same_v<Spec, DecayTimeRequirement>) {
                return fmt::format("decay by {:.4g} dB", spec.fall_db);
            } else if constexpr (requires { spec.from_hz; }) {
                return words + " " + range_text(spec.from_hz, spec.to_hz);
            } else {
                return words;
            }
        },
        requirement.spec);
}

} // namespace syntonon
