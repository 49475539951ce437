// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/named_json.h"
#include "core/study/spec_json.h"

namespace syntonon {

void read_window(ObjectReader& object, Window& window) {
    read_named(object, "window", names_of_windows(), window.shape);
    const WindowParameter parameter = parameter_of(window.shape);
    if (!parameter.name.empty()) {
        window.parameter = object.number_or("window_parameter", parameter.usual);
    }
    if (window.shape != WindowShape::drawn) {
        return;
    }
    for (const auto& point : object.complex_numbers("window_points", "write [place, value]")) {
        window.points.push_back({point.real(), point.imag()});
    }
}

void write_window(Json& object, const Window& window) {
    object.set("window", key_of_named(names_of_windows(), window.shape));
    if (!parameter_of(window.shape).name.empty()) {
        object.set("window_parameter", window.parameter);
    }
    if (window.shape == WindowShape::drawn) {
        Json points = Json::list();
        for (const WindowPoint& point : window.points) {
            points.add(Json::numbers({point.place, point.value}));
        }
        object.set("window_points", std::move(points));
    }
}

} // namespace syntonon
