// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/target_json.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::array between_keys = {"log", "linear", "gap"};

Between read_between(ObjectReader& object, const char* key, bool gap_allowed) {
    const std::string text = object.text_or(key, "log");
    for (std::size_t i = 0; i < between_keys.size(); ++i) {
        if (text == between_keys[i] && (gap_allowed || i < 2)) {
            return static_cast<Between>(i);
        }
    }
    object.fail(key, fmt::format("“{}” is not a way to draw lines", text),
                gap_allowed ? "use log, linear or gap" : "use log or linear");
    return Between::log_frequency;
}

const char* key_of(Between between) {
    return between_keys.at(static_cast<std::size_t>(between));
}

// Leaves the object's unknown keys to the caller.
TargetLine read_line(ObjectReader& object, const char* value_key) {
    TargetLine line;
    object.each("points", [&](ObjectReader point) {
        TargetPoint read;
        read.frequency_hz = point.number("frequency_hz");
        read.value = point.number(value_key);
        if (point.has("after")) {
            read.after = read_between(point, "after", true);
        }
        read.unknown = point.unknown();
        line.points.push_back(std::move(read));
    });
    line.between = read_between(object, "between", false);
    const std::string beyond = object.text_or("beyond", "level");
    if (beyond != "level" && beyond != "gap") {
        object.fail("beyond", fmt::format("“{}” is not a way to go on", beyond),
                    "use level or gap");
    }
    line.open_ends = beyond == "gap";
    return line;
}

Json line_json(const TargetLine& line, const char* value_key) {
    Json object;
    object.set("points", list_json(line.points, [&](const TargetPoint& point) {
                   Json entry;
                   entry.set("frequency_hz", point.frequency_hz).set(value_key, point.value);
                   if (point.after) {
                       entry.set("after", key_of(*point.after));
                   }
                   entry.set_unknown(point.unknown);
                   return entry;
               }));
    object.set("between", key_of(line.between));
    if (line.open_ends) {
        object.set("beyond", "gap");
    }
    return object;
}

// The house curve's numbers with their keys: read and written by the same list.
struct HouseField {
    const char* key;
    double HouseCurve::*member;
};
constexpr auto house_fields =
    std::to_array<HouseField>({{"level_db", &HouseCurve::level_db},
                               {"rise_below_hz", &HouseCurve::rise_below_hz},
                               {"rise_db_per_octave", &HouseCurve::rise_db_per_octave},
                               {"fall_above_hz", &HouseCurve::fall_above_hz},
                               {"fall_db_per_octave", &HouseCurve::fall_db_per_octave},
                               {"low_limit_hz", &HouseCurve::low_limit_hz},
                               {"high_limit_hz", &HouseCurve::high_limit_hz}});

HouseCurve read_house(ObjectReader object) {
    HouseCurve house;
    for (const HouseField& field : house_fields) {
        house.*field.member = object.number_or(field.key, house.*field.member);
    }
    house.unknown = object.unknown();
    return house;
}

Json house_json(const HouseCurve& house) {
    Json object;
    for (const HouseField& field : house_fields) {
        object.set(field.key, house.*field.member);
    }
    object.set_unknown(house.unknown);
    return object;
}

TargetSource read_source(ObjectReader object) {
    using Kind = TargetSource::Kind;
    TargetSource source;
    const std::string kind = object.text("kind");
    bool known = false;
    for (const Kind candidate : {Kind::curve, Kind::channel, Kind::take, Kind::stage}) {
        if (kind == key_of(candidate)) {
            source.kind = candidate;
            known = true;
        }
    }
    if (!known) {
        object.fail("kind", fmt::format("“{}” is nothing a target can follow", kind),
                    "use curve, channel, take or stage");
    }
    if (source.kind == Kind::curve) {
        source.curve = object.text("curve");
    } else {
        source.channel = object.text("channel");
    }
    if (source.kind == Kind::take) {
        source.take = object.text("take");
    } else if (source.kind == Kind::stage) {
        source.stage = object.text("stage");
    }
    source.smoothing_oct = object.number_or("smoothing_oct", 0);
    source.unknown = object.unknown();
    return source;
}

Json source_json(const TargetSource& source) {
    Json object;
    object.set("kind", key_of(source.kind));
    for (const auto& [key, id] : {std::pair<const char*, const std::string&>("curve", source.curve),
                                  {"channel", source.channel},
                                  {"take", source.take},
                                  {"stage", source.stage}}) {
        if (!id.empty()) {
            object.set(key, id);
        }
    }
    object.set("smoothing_oct", source.smoothing_oct);
    object.set_unknown(source.unknown);
    return object;
}

LevelAnchor read_anchor(ObjectReader object) {
    using Kind = LevelAnchor::Kind;
    LevelAnchor anchor;
    const std::string kind = object.text_or("kind", "fixed");
    bool known = false;
    for (const Kind candidate :
         {Kind::fixed, Kind::measured_average, Kind::lowest_measured, Kind::common_average}) {
        if (kind == key_of(candidate)) {
            anchor.kind = candidate;
            known = true;
        }
    }
    if (!known) {
        object.fail("kind", fmt::format("“{}” is no level anchor", kind),
                    "use fixed, measured_average, lowest_measured or common_average");
    }
    anchor.offset_db = object.number_or("offset_db", 0);
    if (anchor.kind != Kind::fixed) {
        anchor.from_hz = object.number("from_hz");
        anchor.to_hz = object.number("to_hz");
    }
    anchor.unknown = object.unknown();
    return anchor;
}

Json anchor_json(const LevelAnchor& anchor) {
    Json object;
    object.set("kind", key_of(anchor.kind)).set("offset_db", anchor.offset_db);
    if (anchor.kind != LevelAnchor::Kind::fixed) {
        object.set("from_hz", anchor.from_hz);
        object.set("to_hz", anchor.to_hz);
    }
    object.set_unknown(anchor.unknown);
    return object;
}

} // namespace

Target read_target(ObjectReader object) {
    Target target;
    static_cast<TargetLine&>(target) = read_line(object, "magnitude_db");
    if (object.has("house")) {
        target.house = read_house(object.object("house"));
    }
    if (object.has("source")) {
        target.source = read_source(object.object("source"));
    }
    if (object.has("anchor")) {
        target.anchor = read_anchor(object.object("anchor"));
    }
    target.unknown = object.unknown();
    return target;
}

Json target_json(const Target& target) {
    // Points beside another form are refused by check, but kept.
    const bool other_form = target.house || target.source;
    Json object = other_form && target.points.empty() ? Json() : line_json(target, "magnitude_db");
    if (target.house) {
        object.set("house", house_json(*target.house));
    }
    if (target.source) {
        object.set("source", source_json(*target.source));
    }
    if (target.anchor != LevelAnchor{}) {
        object.set("anchor", anchor_json(target.anchor));
    }
    object.set_unknown(target.unknown);
    return object;
}

std::optional<TargetLine> read_target_line(ObjectReader& owner, const char* key,
                                           const char* value_key) {
    if (!owner.has(key)) {
        return std::nullopt;
    }
    ObjectReader object = owner.object(key);
    TargetLine line = read_line(object, value_key);
    line.unknown = object.unknown();
    return line;
}

void write_target_line(Json& owner, const char* key, const char* value_key,
                       const std::optional<TargetLine>& line) {
    if (line) {
        owner.set(key, line_json(*line, value_key).set_unknown(line->unknown));
    }
}

} // namespace syntonon
