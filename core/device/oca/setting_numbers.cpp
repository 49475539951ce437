// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/setting_numbers.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace syntonon::oca {
namespace {

struct Limited {
    const char* field;
    float value;
    std::optional<Range> range;
};
std::vector<Limited> limited_of(const Setting& setting, const Limits& limits) {
    if (const auto* gain = std::get_if<GainSetting>(&setting)) {
        return {{"gain_db", gain->gain_db, limits.gain_db}};
    }
    if (const auto* delay = std::get_if<DelaySetting>(&setting)) {
        return {{"seconds", delay->seconds, limits.delay_s}};
    }
    if (const auto* s = std::get_if<ParametricSetting>(&setting)) {
        return {{"frequency_hz", s->frequency_hz, limits.frequency_hz},
                {"width", s->width, limits.width},
                {"in_band_gain_db", s->in_band_gain_db, limits.gain_db},
                {"form_parameter", s->form_parameter, limits.form_parameter}};
    }
    if (const auto* s = std::get_if<ClassicalSetting>(&setting)) {
        return {{"frequency_hz", s->frequency_hz, limits.frequency_hz},
                {"order", static_cast<float>(s->order), limits.order},
                {"parameter", s->parameter, limits.form_parameter}};
    }
    return {};
}

tl::unexpected<Problem> too_many(const char* field, std::size_t count, std::size_t most) {
    return refuse(field, fmt::format("{} are more than the {} that it takes", count, most),
                  "choose another object");
}

// The lists of numbers that a setting has.
std::vector<const std::vector<float>*> lists_of(const Setting& setting) {
    if (const auto* s = std::get_if<PolynomialSetting>(&setting)) {
        return {&s->numerator, &s->denominator};
    }
    if (const auto* s = std::get_if<FirSetting>(&setting)) {
        return {&s->taps};
    }
    if (const auto* s = std::get_if<CurveSetting>(&setting)) {
        return {&s->frequency_hz, &s->amplitude, &s->phase_rad};
    }
    return {};
}

Expected<void> check_counts(const Setting& setting, const Limits& limits) {
    constexpr std::size_t most_in_list = 0xffff;
    for (const auto* list : lists_of(setting)) {
        if (list->size() > most_in_list) {
            return too_many("numbers", list->size(), most_in_list);
        }
    }
    if (const auto* s = std::get_if<PolynomialSetting>(&setting); s && limits.most_order) {
        const std::size_t order = std::max(s->numerator.size(), s->denominator.size()) - 1;
        if (order > *limits.most_order) {
            return refuse(
                "order",
                fmt::format("{} is above the greatest order of {}", order, *limits.most_order),
                "choose another object");
        }
    }
    if (const auto* s = std::get_if<FirSetting>(&setting); s && limits.taps) {
        if (s->taps.size() > *limits.taps) {
            return too_many("taps", s->taps.size(), *limits.taps);
        }
    }
    if (const auto* s = std::get_if<CurveSetting>(&setting)) {
        const std::size_t count = s->frequency_hz.size();
        if (limits.most_points && count > *limits.most_points) {
            return too_many("points", count, *limits.most_points);
        }
        if (limits.least_points && count < *limits.least_points) {
            return refuse(
                "points",
                fmt::format("{} are less than the {} that it needs", count, *limits.least_points),
                "give more");
        }
    }
    return {};
}

// All numbers, and what must be the same besides them.
struct Numbers {
    std::vector<double> values;
    int what = 0;
};
Numbers numbers_of(const Setting& setting) {
    Numbers numbers;
    if (const auto* mute = std::get_if<MuteSetting>(&setting)) {
        numbers.what = mute->is_muted ? 1 : 0;
    } else if (const auto* polarity = std::get_if<PolaritySetting>(&setting)) {
        numbers.what = polarity->is_inverted ? 1 : 0;
    } else if (const auto* s = std::get_if<ParametricSetting>(&setting)) {
        numbers.what = static_cast<int>(s->form);
    } else if (const auto* c = std::get_if<ClassicalSetting>(&setting)) {
        numbers.what = 100 * static_cast<int>(c->passband) + static_cast<int>(c->form);
    }
    for (const Limited& one : limited_of(setting, {})) {
        numbers.values.push_back(one.value);
    }
    for (const auto* list : lists_of(setting)) {
        numbers.values.push_back(static_cast<double>(list->size()));
        numbers.values.insert(numbers.values.end(), list->begin(), list->end());
    }
    return numbers;
}

} // namespace

bool is_finite(const Setting& setting) {
    return std::ranges::all_of(numbers_of(setting).values,
                               [](double value) { return std::isfinite(value); });
}

Expected<void> check_within(const Setting& setting, const Limits& limits) {
    if (!is_finite(setting)) {
        return refuse("", "a number is beyond 32-bit floats", "lower the gain of the stage");
    }
    for (const Limited& one : limited_of(setting, limits)) {
        if (one.range && !one.range->holds(one.value)) {
            return refuse(one.field,
                          fmt::format("{:.6g} is not within {:.6g} to {:.6g}", one.value,
                                      one.range->least, one.range->greatest),
                          "choose another object or value");
        }
    }
    return check_counts(setting, limits);
}

double difference(const Setting& a, const Setting& b) {
    const Numbers these = numbers_of(a), those = numbers_of(b);
    if (a.index() != b.index() || these.what != those.what
        || these.values.size() != those.values.size()) {
        return std::numeric_limits<double>::infinity();
    }
    double greatest = 0;
    for (std::size_t i = 0; i < these.values.size(); ++i) {
        const double off =
            std::abs(these.values[i] - those.values[i]) / std::max(1.0, std::abs(these.values[i]));
        greatest = std::max(greatest, off);
    }
    return greatest;
}

} // namespace syntonon::oca
