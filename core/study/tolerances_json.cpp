// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/tolerances_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace syntonon {

void read_edges(ObjectReader& object, std::string_view key, ClassicalBand band,
                std::array<double, 2>& edges) {
    const auto given = object.numbers(key);
    const std::size_t wanted = has_two_edges(band) ? 2 : 1;
    if (given.size() < wanted || given.size() > 2) {
        object.fail(key, fmt::format("are {} edges", given.size()),
                    wanted == 2 ? "give two" : "give one");
        return;
    }
    std::ranges::copy(given, edges.begin());
}

Json edges_json(const std::array<double, 2>& edges, const std::array<double, 2>& usual,
                ClassicalBand band) {
    const bool both = has_two_edges(band) || edges[1] != usual[1];
    return Json::numbers({edges.begin(), edges.begin() + (both ? 2 : 1)});
}

void read_tolerances(ObjectReader object, ClassicalBand band, Tolerances& t) {
    read_edges(object, "pass_edges_hz", band, t.pass_edges_hz);
    read_edges(object, "stop_edges_hz", band, t.stop_edges_hz);
    t.pass_as_ratio = object.has("pass_ratio");
    t.stop_as_ratio = object.has("stop_ratio");
    for (const auto& [in_db, as_ratio] :
         {std::pair{"pass_ripple_db", "pass_ratio"}, {"stop_attenuation_db", "stop_ratio"}}) {
        if (object.has(in_db) == object.has(as_ratio)) {
            object.fail(in_db,
                        object.has(in_db) ? fmt::format("says what {} says, too", as_ratio)
                                          : "is missing",
                        fmt::format("give {} or {}", in_db, as_ratio));
        }
    }
    t.pass_ripple_db = object.number_or("pass_ripple_db", t.pass_ripple_db);
    t.stop_attenuation_db = object.number_or("stop_attenuation_db", t.stop_attenuation_db);
    t.stop_ratio = object.number_or("stop_ratio", t.stop_ratio);
    if (t.pass_as_ratio) {
        const auto given = object.numbers("pass_ratio");
        if (given.size() == 2) {
            std::ranges::copy(given, t.pass_ratio.begin());
        } else {
            object.fail("pass_ratio", fmt::format("are {} numbers", given.size()),
                        "give the lowest and the highest");
        }
    }
    t.unknown = object.unknown();
}

Json tolerances_json(const Tolerances& t, ClassicalBand band) {
    Json json;
    json.set("pass_edges_hz", edges_json(t.pass_edges_hz, Tolerances().pass_edges_hz, band));
    json.set("stop_edges_hz", edges_json(t.stop_edges_hz, Tolerances().stop_edges_hz, band));
    if (t.pass_as_ratio) {
        json.set("pass_ratio", Json::numbers({t.pass_ratio.begin(), t.pass_ratio.end()}));
    } else {
        json.set("pass_ripple_db", t.pass_ripple_db);
    }
    if (t.stop_as_ratio) {
        json.set("stop_ratio", t.stop_ratio);
    } else {
        json.set("stop_attenuation_db", t.stop_attenuation_db);
    }
    json.set_unknown(t.unknown);
    return json;
}

} // namespace syntonon
