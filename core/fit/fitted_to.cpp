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

struct Noted {
    std::vector<double> hz, gain_db, phase_deg; // phases where timing counts
};

Noted noted(const CorrectionAim& aim) {
    const double octaves = std::log2(aim.hz.back() / aim.hz.front());
    const auto count = 2 + static_cast<std::size_t>(octaves * noted_an_octave);
    Noted out;
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t place = (aim.size() - 1) * i / (count - 1);
        out.hz.push_back(aim.hz[place]);
        out.gain_db.push_back(std::round(aim.gain_db[place] / noted_db) * noted_db);
        if (aim.timing) {
            const double deg = deg_from_rad(aim.timing->phase_rad[place]);
            out.phase_deg.push_back(std::round(deg / noted_deg) * noted_deg);
        }
    }
    return out;
}

std::string digest(const CorrectionSpec& spec) {
    std::string text = settings_text(spec);
    for (const double db : spec.fitted_aim_db) {
        text += fmt::format("{:.2f};", db);
    }
    for (const double deg : spec.fitted_aim_deg) {
        text += fmt::format("{:.1f};", deg);
    }
    return digest_of(text);
}

} // namespace

void note_fitted_to(CorrectionSpec& spec, const CorrectionAim& aim) {
    Noted now = noted(aim);
    spec.fitted_aim_db = std::move(now.gain_db);
    spec.fitted_aim_deg = std::move(now.phase_deg);
    spec.fitted_to = digest(spec);
}

std::string OutOfDate::text() const {
    if (by_settings) {
        return "out of date: other settings";
    }
    const std::string what =
        by_phase ? fmt::format("{:.0f}°", most_deg) : fmt::format("{:.1f} dB", most_db);
    return fmt::format("out of date: {} at {}", what, frequency_text(worst_hz));
}

std::optional<OutOfDate> out_of_date(const CorrectionSpec& spec, const CorrectionAim& now) {
    if (!is_fitted(spec)) {
        return std::nullopt;
    }
    if (digest(spec) != spec.fitted_to) {
        OutOfDate other;
        other.by_settings = true;
        return other;
    }
    const Noted is = noted(now);
    OutOfDate found;
    for (std::size_t i = 0; i < std::min(is.hz.size(), spec.fitted_aim_db.size()); ++i) {
        const double off = std::abs(is.gain_db[i] - spec.fitted_aim_db[i]);
        if (off > found.most_db) {
            found.most_db = off;
            found.worst_hz = is.hz[i];
        }
    }
    if (found.most_db > rounding_only_db) {
        return found;
    }
    for (std::size_t i = 0; i < std::min(is.phase_deg.size(), spec.fitted_aim_deg.size()); ++i) {
        const double off = std::abs(std::remainder(is.phase_deg[i] - spec.fitted_aim_deg[i], 360));
        if (off > found.most_deg) {
            found.most_deg = off;
            found.worst_hz = is.hz[i];
        }
    }
    found.by_phase = true;
    return found.most_deg > rounding_only_deg ? std::optional(found) : std::nullopt;
}

} // namespace syntonon
