// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fitted_to.h"

#include "core/base/digest.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double noted_an_octave = 12, noted_db = 0.01, noted_deg = 0.1;
constexpr double rounding_only_db = 0.03,
                 rounding_only_deg = 0.5; // another machine's arithmetic, or another digit

void add_settings(const SectionsCorrection& method, std::string& text) {
    if (method.match != CorrectionMatch::magnitude) {
        text += named<CorrectionMatch>(names_of_correction_matches(), method.match).key;
    }
    for (const QLimit& limit : method.q_limits) {
        text += fmt::format("q {} {};", limit.frequency_hz, limit.q);
    }
}
void add_settings(const TapsCorrection& method, std::string& text) {
    text += named<TapsCorrection::Phase>(names_of_correction_phases(), method.phase).key;
    if (method.window.shape != TapsCorrection().window.shape) {
        text += named<WindowShape>(names_of_windows(), method.window.shape).key;
    }
}

std::string settings_text(const CorrectionSpec& spec) {
    std::string text = fmt::format("{};", spec.method.index());
    for (const auto& field : fields_of(spec)) {
        if (const auto value = field.get(spec)) {
            text += fmt::format("{} {};", field.key, *value);
        }
    }
    for (const BoostLimit& limit : spec.boost_limits) {
        text += fmt::format("b {} {};", limit.frequency_hz, limit.boost_db);
    }
    text += named<CorrectionOver>(names_of_correction_overs(), spec.over).key;
    std::visit([&](const auto& method) { add_settings(method, text); }, spec.method);
    return text;
}

AimToNote to_note(const CorrectionAim& aim) {
    return {aim.hz, aim.gain_db,
            aim.timing ? std::span<const double>(aim.timing->phase_rad)
                       : std::span<const double>()};
}

std::size_t count_to_note(const AimToNote& aim) {
    const double octaves = std::log2(aim.hz.back() / aim.hz.front());
    return 2 + static_cast<std::size_t>(octaves * noted_an_octave);
}
std::size_t place_to_note(const AimToNote& aim, std::size_t i) {
    return (aim.hz.size() - 1) * i / (count_to_note(aim) - 1);
}

FittedTo noted(const AimToNote& aim) {
    FittedTo out;
    for (std::size_t i = 0; i < count_to_note(aim); ++i) {
        const std::size_t place = place_to_note(aim, i);
        out.aim_db.push_back(std::round(aim.gain_db[place] / noted_db) * noted_db);
        if (!aim.phase_rad.empty()) {
            const double deg = deg_from_rad(aim.phase_rad[place]);
            out.aim_deg.push_back(std::round(deg / noted_deg) * noted_deg);
        }
    }
    return out;
}

std::string digest(const std::string& settings, const FittedTo& noted) {
    std::string text = settings;
    for (const double db : noted.aim_db) {
        text += fmt::format("{:.2f};", db);
    }
    for (const double deg : noted.aim_deg) {
        text += fmt::format("{:.1f};", deg);
    }
    return digest_of(text);
}

} // namespace

FittedTo fitted_to(const std::string& settings, const AimToNote& aim) {
    FittedTo made = noted(aim);
    made.digest = digest(settings, made);
    return made;
}

void note_fitted_to(CorrectionSpec& spec, const CorrectionAim& aim) {
    FittedTo now = fitted_to(settings_text(spec), to_note(aim));
    spec.fitted_aim_db = std::move(now.aim_db);
    spec.fitted_aim_deg = std::move(now.aim_deg);
    spec.fitted_to = std::move(now.digest);
}

std::string OutOfDate::text() const {
    if (by_settings) {
        return "out of date: other settings";
    }
    const std::string what =
        by_phase ? fmt::format("{:.0f}°", most_deg) : fmt::format("{:.1f} dB", most_db);
    return fmt::format("out of date: {} at {}", what, frequency_text(worst_hz));
}

std::optional<OutOfDate> out_of_date(const std::string& settings, const FittedTo& then,
                                     const AimToNote& now) {
    if (digest(settings, then) != then.digest) {
        OutOfDate other;
        other.by_settings = true;
        return other;
    }
    const FittedTo is = noted(now);
    OutOfDate found;
    for (std::size_t i = 0; i < std::min(is.aim_db.size(), then.aim_db.size()); ++i) {
        const double off = std::abs(is.aim_db[i] - then.aim_db[i]);
        if (off > found.most_db) {
            found.most_db = off;
            found.worst_hz = now.hz[place_to_note(now, i)];
        }
    }
    if (found.most_db > rounding_only_db) {
        return found;
    }
    for (std::size_t i = 0; i < std::min(is.aim_deg.size(), then.aim_deg.size()); ++i) {
        const double off = std::abs(std::remainder(is.aim_deg[i] - then.aim_deg[i], 360));
        if (off > found.most_deg) {
            found.most_deg = off;
            found.worst_hz = now.hz[place_to_note(now, i)];
        }
    }
    found.by_phase = true;
    return found.most_deg > rounding_only_deg ? std::optional(found) : std::nullopt;
}

std::optional<OutOfDate> out_of_date(const CorrectionSpec& spec, const CorrectionAim& now) {
    if (!is_fitted(spec)) {
        return std::nullopt;
    }
    return out_of_date(settings_text(spec),
                       {spec.fitted_to, spec.fitted_aim_db, spec.fitted_aim_deg}, to_note(now));
}

} // namespace syntonon
