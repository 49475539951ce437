// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/weight_json.h"

#include <utility>

namespace syntonon {

WeightCurve read_weight_curve(ObjectReader& object, const char* key) {
    WeightCurve points;
    object.each(key, [&](ObjectReader point) {
        WeightPoint read{point.number("frequency_hz"), point.number("weight"), {}};
        read.unknown = point.unknown();
        points.push_back(std::move(read));
    });
    return points;
}

Json weight_curve_json(const WeightCurve& points) {
    return list_json(points, [](const WeightPoint& point) {
        Json entry;
        entry.set("frequency_hz", point.frequency_hz).set("weight", point.weight);
        entry.set_unknown(point.unknown);
        return entry;
    });
}

} // namespace syntonon
