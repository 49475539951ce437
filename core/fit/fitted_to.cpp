// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fitted_to.h"

#include "core/base/digest.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double noted_an_octave = 12, noted_db = 0.01;
constexpr double rounding_only_db = 0.03; // another machine's arithmetic, or another digit

void add_settings(const SectionsCorrection& method, std::string& text) {
    for (const QLimit& limit : method.q_limits) {
        text += fmt::format("q {} {};", limit.frequency_hz, limit.q);
    }
}
void add_settings(const TapsCorrection& method, std::string& text) {
    text += named<TapsCorrection::Phase>(names_of_correction_phases(), method.phase).key;
}

std::string settings_text(const CorrectionSpec& spec) {
    std::string text = fmt::format("{};", spec.method.index());
    for (const auto& field : fields_of(spec)) {
        if (const auto value = field.get(spec)) {
            text += fmt::format("{} {};", field.key, *value);
        }
    }
    text += named<CorrectionOver>(names_of_correction_overs(), spec.over).key;
    std::visit([&](const auto& method) { add_settings(method, text); }, spec.method);
    return text;
}

struct Noted {
    std::vector<double> hz, gain_db;
};

Noted noted(const CorrectionAim& aim) {
    const double octaves = std::log2(aim.hz.back() / aim.hz.front());
    const auto count = 2 + static_cast<std::size_t>(octaves * noted_an_octave);
    Noted out;
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t place = (aim.size() - 1) * i / (count - 1);
        out.hz.push_back(aim.hz[place]);
        out.gain_db.push_back(std::round(aim.gain_db[place] / noted_db) * noted_db);
    }
    return out;
}

std::string digest(const CorrectionSpec& spec, const std::vector<double>& gain_db) {
    std::string text = settings_text(spec);
    for (const double db : gain_db) {
        text += fmt::format("{:.2f};", db);
    }
    return digest_of(text);
}

} // namespace

void note_fitted_to(CorrectionSpec& spec, const CorrectionAim& aim) {
    spec.fitted_aim_db = noted(aim).gain_db;
    spec.fitted_to = digest(spec, spec.fitted_aim_db);
}

std::string OutOfDate::text() const {
    return by_settings
               ? "out of date: other settings"
               : fmt::format("out of date: {:.1f} dB at {}", most_db, frequency_text(worst_hz));
}

std::optional<OutOfDate> out_of_date(const CorrectionSpec& spec, const CorrectionAim& now) {
    if (!is_fitted(spec)) {
        return std::nullopt;
    }
    if (digest(spec, spec.fitted_aim_db) != spec.fitted_to) {
        return OutOfDate{true, 0, 0};
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
    return found.most_db > rounding_only_db ? std::optional(found) : std::nullopt;
}

} // namespace syntonon
