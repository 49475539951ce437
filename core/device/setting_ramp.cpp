// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/setting_ramp.h"

#include "core/device/object_stages.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace syntonon::oca {
namespace {

float in_steps(float from, float to, float share) {
    return from + share * (to - from);
}
float in_ratios(float from, float to, float share) {
    return from > 0 && to > 0 ? from * std::pow(to / from, share) : to;
}

std::vector<float> in_steps(std::vector<float> from, std::vector<float> to, float share) {
    const std::size_t count = std::max(from.size(), to.size());
    from.resize(count);
    to.resize(count);
    for (std::size_t i = 0; i < count; ++i) {
        to[i] = in_steps(from[i], to[i], share);
    }
    return to;
}

std::optional<Setting> between(const Setting& from, const Setting& to, float share) {
    if (from.index() != to.index()) {
        return std::nullopt;
    }
    if (const auto* gain = std::get_if<GainSetting>(&to)) {
        return GainSetting{in_steps(std::get<GainSetting>(from).gain_db, gain->gain_db, share)};
    }
    if (const auto* a = std::get_if<ParametricSetting>(&from)) {
        ParametricSetting made = std::get<ParametricSetting>(to);
        if (a->form != made.form) {
            return std::nullopt;
        }
        made.frequency_hz = in_ratios(a->frequency_hz, made.frequency_hz, share);
        made.width = in_ratios(a->width, made.width, share);
        made.in_band_gain_db = in_steps(a->in_band_gain_db, made.in_band_gain_db, share);
        made.form_parameter = in_steps(a->form_parameter, made.form_parameter, share);
        return made;
    }
    if (const auto* a = std::get_if<PolynomialSetting>(&from)) {
        const auto& b = std::get<PolynomialSetting>(to);
        constexpr std::size_t of_second_order = 3;
        if (a->denominator.size() > of_second_order || b.denominator.size() > of_second_order) {
            return std::nullopt;
        }
        return PolynomialSetting{in_steps(a->numerator, b.numerator, share),
                                 in_steps(a->denominator, b.denominator, share)};
    }
    if (const auto* a = std::get_if<FirSetting>(&from)) {
        return FirSetting{in_steps(a->taps, std::get<FirSetting>(to).taps, share)};
    }
    return std::nullopt;
}

} // namespace

std::vector<Setting> ramp_between(const Setting& was, const Setting& to, int steps) {
    // A filter that was off begins as the new one without its gain.
    const bool begins = std::holds_alternative<ParametricSetting>(to) && is_idle(was);
    const Setting from = begins ? idle_setting(to) : was;
    std::vector<Setting> all;
    for (int i = 1; i < steps; ++i) {
        const auto one = between(from, to, static_cast<float>(i) / static_cast<float>(steps));
        if (!one) {
            break;
        }
        all.push_back(*one);
    }
    all.push_back(to);
    return all;
}

} // namespace syntonon::oca
