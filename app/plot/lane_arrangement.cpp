// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_arrangement.h"

#include "app/plot/lane_stack.h"

#include <QJsonArray>
#include <cmath>

namespace syntonon {
namespace {

template <class T>
T choice(const QJsonValue& json, T otherwise, T last) {
    const int value = json.toInt(-1);
    return value >= 0 && value <= static_cast<int>(last) ? static_cast<T>(value) : otherwise;
}

QJsonArray to_json(const LaneRange& range) {
    return {range.low, range.high, range.step};
}

LaneRange range_from_json(const QJsonArray& json, const LaneRange& otherwise) {
    constexpr double widest = 1e9;
    const LaneRange range{json.at(0).toDouble(), json.at(1).toDouble(), json.at(2).toDouble()};
    const bool fits = json.size() == 3 && range.low < range.high && std::abs(range.low) < widest
                      && std::abs(range.high) < widest && range.step >= 0;
    return fits ? range : otherwise;
}

QJsonArray ranges_to_json(const std::array<LaneRange, lane_count>& ranges) {
    QJsonArray all;
    for (const LaneRange& range : ranges) {
        all.append(to_json(range));
    }
    return all;
}

std::array<LaneRange, lane_count> ranges_from_json(const QJsonArray& json,
                                                   std::array<LaneRange, lane_count> otherwise) {
    for (std::size_t i = 0; i < lane_count; ++i) {
        otherwise[i] = range_from_json(json.at(static_cast<qsizetype>(i)).toArray(), otherwise[i]);
    }
    return otherwise;
}

QJsonObject view_to_json(const LaneView& view) {
    QJsonArray visible;
    for (const bool shown : view.visible) {
        visible.append(shown);
    }
    return {{"frequency_unit", static_cast<int>(view.frequency_unit)},
            {"linear_frequency", view.linear_frequency},
            {"span", static_cast<int>(view.span)},
            {"level", static_cast<int>(view.level)},
            {"radians", view.radians},
            {"unwrapped", view.unwrapped},
            {"marks", view.marks},
            {"delay", static_cast<int>(view.delay)},
            {"delay_unit", static_cast<int>(view.delay_unit)},
            {"root_width", static_cast<int>(view.root_width)},
            {"visible", visible}};
}

LaneView view_from_json(const QJsonObject& json, LaneView view) {
    view.frequency_unit = choice(json["frequency_unit"], view.frequency_unit, AxisUnit::of_nyquist);
    view.linear_frequency = json["linear_frequency"].toBool(view.linear_frequency);
    view.span = choice(json["span"], view.span, FrequencySpan::mirrored);
    view.level = choice(json["level"], view.level, LevelScale::linear_ratio);
    view.radians = json["radians"].toBool(view.radians);
    view.unwrapped = json["unwrapped"].toBool(view.unwrapped);
    view.marks = json["marks"].toBool(view.marks);
    view.delay = choice(json["delay"], view.delay, DelayKind::phase);
    view.delay_unit = choice(json["delay_unit"], view.delay_unit, TimeUnit::s);
    view.root_width = choice(json["root_width"], view.root_width, RootWidth::bandwidth);
    const QJsonArray visible = json["visible"].toArray();
    for (std::size_t i = 0; i < lane_count; ++i) {
        view.visible[i] = visible.at(static_cast<qsizetype>(i)).toBool(view.visible[i]);
    }
    return view;
}

QJsonObject choices_to_json(const CurveChoices& choices) {
    QJsonObject shown;
    for (const auto& [key, is_shown] : choices.shown) {
        shown[key] = is_shown;
    }
    QJsonObject json{{"shown", shown}};
    if (choices.alone) {
        json["alone"] = *choices.alone;
    }
    return json;
}

CurveChoices choices_from_json(const QJsonObject& json) {
    CurveChoices choices;
    const QJsonObject shown = json["shown"].toObject();
    for (auto curve = shown.begin(); curve != shown.end(); ++curve) {
        choices.shown[curve.key()] = curve.value().toBool(true);
    }
    if (json.contains("alone")) {
        choices.alone = json["alone"].toString();
    }
    return choices;
}

} // namespace

QJsonObject arrangement_of(const LaneStack& lanes) {
    return {{"view", view_to_json(lanes.view())},
            {"home", ranges_to_json(lanes.home_ranges())},
            {"ranges", ranges_to_json(lanes.zoom().ranges)},
            {"frequencies", QJsonArray{lanes.zoom().low_hz, lanes.zoom().high_hz}},
            {"curves", choices_to_json(lanes.curves().choices())},
            {"readout_column", lanes.readout().is_column()}};
}

void arrange(LaneStack& lanes, const QJsonObject& arrangement) {
    if (arrangement.isEmpty()) {
        return;
    }
    lanes.change_view(view_from_json(arrangement["view"].toObject(), lanes.view()));
    const auto home = ranges_from_json(arrangement["home"].toArray(), lanes.home_ranges());
    for (const Lane lane : all_lanes) {
        lanes.change_range(lane, home[static_cast<std::size_t>(lane)]);
    }
    LaneZoom zoomed = lanes.zoom();
    zoomed.ranges = ranges_from_json(arrangement["ranges"].toArray(), zoomed.ranges);
    const QJsonArray hz = arrangement["frequencies"].toArray();
    const double low = hz.at(0).toDouble(), high = hz.at(1).toDouble();
    const auto [whole_low, whole_high] = lanes.whole_frequencies();
    if (hz.size() == 2 && low < high && low >= whole_low && high <= whole_high) {
        zoomed.low_hz = low;
        zoomed.high_hz = high;
    }
    if (!(zoomed == lanes.zoom())) {
        lanes.magnify(zoomed);
    }
    lanes.set_readout_column(arrangement["readout_column"].toBool());
    lanes.choose_curves(choices_from_json(arrangement["curves"].toObject()));
}

} // namespace syntonon
