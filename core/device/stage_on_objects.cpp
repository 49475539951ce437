// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/stage_on_objects.h"

#include "core/device/curve_setting.h"
#include "core/device/object_stages.h"
#include "core/device/oca/setting_numbers.h"
#include "core/study/chain.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon::oca {
namespace {

bool is_made_for_one(Kind kind) {
    return std::ranges::find(made_for_one, kind) != made_for_one.end();
}

FirSetting delayed(FirSetting taps, double seconds, double sample_rate_hz) {
    const auto samples = static_cast<std::ptrdiff_t>(std::llround(seconds * sample_rate_hz));
    taps.taps.insert(taps.taps.begin(), static_cast<std::size_t>(samples), 0.0f);
    return taps;
}

// What a filter in parts needs of each kind.
tl::unexpected<Problem> too_few(std::string_view what, std::size_t needed, std::size_t chosen) {
    return refuse("",
                  fmt::format("needs {} {}, and {} chosen", needed, what,
                              chosen == 0   ? "none is"
                              : chosen == 1 ? "one is"
                                            : fmt::format("{} are", chosen)),
                  "choose more, or another output");
}

// Sections, taps and delay to the objects of their kinds, in order.
Expected<std::vector<Setting>> settings_in_parts(const Filter& filter,
                                                 std::span<const DeviceObject* const> objects,
                                                 double sample_rate_hz) {
    auto parts = settings_for(filter, sample_rate_hz);
    if (!parts) {
        return tl::unexpected(parts.error());
    }
    const std::size_t polynomials = of_kind(objects, Kind::polynomial_filter).size();
    const std::size_t firs = of_kind(objects, Kind::fir_filter).size();
    const bool has_delay = !of_kind(objects, Kind::delay).empty();
    if (parts->sections.size() > polynomials) {
        return too_few("polynomial objects for its sections", parts->sections.size(), polynomials);
    }
    if (parts->taps && firs == 0) {
        return too_few("FIR object for its taps", 1, 0);
    }
    if (parts->delay && !has_delay) {
        if (firs == 0) {
            return too_few("object for its delay", 1, 0);
        }
        parts->taps =
            delayed(parts->taps.value_or(FirSetting{}), parts->delay->seconds, sample_rate_hz);
    }
    std::vector<Setting> settings;
    std::size_t section = 0;
    for (const DeviceObject* object : objects) {
        if (object->kind == Kind::polynomial_filter) {
            settings.emplace_back(section < parts->sections.size() ? parts->sections[section]
                                                                   : PolynomialSetting{});
            ++section;
        } else if (object->kind == Kind::fir_filter) {
            settings.emplace_back(std::exchange(parts->taps, {}).value_or(FirSetting{}));
        } else if (object->kind == Kind::delay) {
            settings.emplace_back(std::exchange(parts->delay, {}).value_or(DelaySetting{}));
        } else {
            return refuse(object->path,
                          fmt::format("{} takes no part of a filter", class_of(*object->kind).name),
                          "choose polynomial, FIR and delay objects");
        }
    }
    return settings;
}

std::size_t points_for(const Limits& limits) {
    constexpr std::size_t enough = 512;
    return std::clamp(enough, limits.least_points.value_or(2), limits.most_points.value_or(enough));
}

Expected<std::vector<Setting>> settings_on(const Wanted& wanted,
                                           std::span<const DeviceObject* const> objects,
                                           double sample_rate_hz) {
    if (objects.size() == 1 && is_made_for_one(*objects[0]->kind)) {
        if (auto setting = setting_for(wanted.stage->spec, *objects[0]->kind, sample_rate_hz)) {
            return std::vector{std::move(*setting)};
        }
        if (objects[0]->kind != Kind::delay) {
            return refuse(
                objects[0]->path,
                fmt::format("{} cannot do this exactly", class_of(*objects[0]->kind).name),
                "choose polynomial objects");
        }
    }
    if (!wanted.filter) {
        return tl::unexpected(wanted.filter.error());
    }
    if (objects.size() == 1 && objects[0]->kind == Kind::curve_filter) {
        return curve_of(*wanted.filter, sample_rate_hz, points_for(objects[0]->state->limits))
            .map([](CurveSetting curve) { return std::vector<Setting>{std::move(curve)}; });
    }
    return settings_in_parts(*wanted.filter, objects, sample_rate_hz);
}

} // namespace

Objects settable_in(const DeviceTree& tree, const std::string& block) {
    Objects objects;
    for (const DeviceObject& object : tree.objects) {
        if (object.state && object.kind != Kind::mute && object.path.starts_with(block + "/")) {
            objects.push_back(&object);
        }
    }
    return objects;
}

Expected<void> check_object(const DeviceObject& object, const Setting& setting,
                            double sample_rate_hz) {
    const auto& rate = object.state->limits.sample_rate_hz;
    if (rate && *rate > 0 && std::abs(*rate - sample_rate_hz) > 1e-6 * sample_rate_hz
        && !is_made_for_one(*object.kind)) {
        return refuse(object.path,
                      fmt::format("runs at {} Hz, the study at {} Hz", *rate, sample_rate_hz),
                      "set one of them to the other's rate");
    }
    auto ok = check_within(setting, object.state->limits);
    return ok ? ok : tl::unexpected(within(object.path, ok.error()));
}

Objects of_kind(std::span<const DeviceObject* const> objects, Kind kind) {
    Objects some;
    std::ranges::copy_if(objects, std::back_inserter(some),
                         [&](const DeviceObject* object) { return object->kind == kind; });
    return some;
}

Expected<std::vector<Setting>> fitting_settings(const Wanted& wanted,
                                                std::span<const DeviceObject* const> objects,
                                                double sample_rate_hz) {
    auto settings = settings_on(wanted, objects, sample_rate_hz);
    for (std::size_t i = 0; settings && i < objects.size(); ++i) {
        if (auto ok = check_object(*objects[i], (*settings)[i], sample_rate_hz); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    return settings;
}

std::vector<Wanted> wanted_of(const Study& study, const Channel& channel, Briefs& briefs) {
    const DesignedChain designed = briefs.design(study, channel);
    std::vector<Wanted> all;
    for (const Stage* stage : stages_that_count(channel.stages)) {
        const DesignedStage& made = designed.stages.at(stage->id);
        all.push_back({stage, made.filter, made.is_waiting});
    }
    return all;
}

} // namespace syntonon::oca
