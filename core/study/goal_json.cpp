// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/goal_json.h"

#include "core/study/requirement_json.h"
#include "core/study/target_json.h"
#include "core/study/weight_json.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace syntonon {
namespace {

CorridorRange read_range(ObjectReader object) {
    CorridorRange range;
    range.from_hz = object.number("from_hz");
    range.to_hz = object.number("to_hz");
    range.absolute =
        std::ranges::any_of(std::array{"upper_db", "lower_db", "upper_to_db", "lower_to_db"},
                            [&](const char* key) { return object.has(key); });
    if (range.absolute) {
        range.above_db = object.optional_number("upper_db");
        range.above_to_db = object.optional_number("upper_to_db");
        range.below_db = object.optional_number("lower_db");
        range.below_to_db = object.optional_number("lower_to_db");
        for (auto* lower : {&range.below_db, &range.below_to_db}) {
            *lower = *lower ? std::optional(-**lower) : std::nullopt;
        }
        for (const char* relative : {"above_db", "below_db", "above_to_db", "below_to_db"}) {
            if (object.has(relative)) {
                object.fail(relative, "the range is both absolute and relative to the target",
                            "give upper_db and lower_db, or above_db and below_db");
            }
        }
    } else {
        range.above_db = object.optional_number("above_db");
        range.below_db = object.optional_number("below_db");
        range.above_to_db = object.optional_number("above_to_db");
        range.below_to_db = object.optional_number("below_to_db");
    }
    range.unknown = object.unknown();
    return range;
}

Json range_json(const CorridorRange& range) {
    Json entry;
    entry.set("from_hz", range.from_hz).set("to_hz", range.to_hz);
    const auto set_side = [&](const std::optional<double>& db, const char* absolute,
                              const char* relative, double sign) {
        if (db) {
            entry.set(range.absolute ? absolute : relative, range.absolute ? 0 + sign * *db : *db);
        }
    };
    set_side(range.above_db, "upper_db", "above_db", 1);
    set_side(range.above_to_db, "upper_to_db", "above_to_db", 1);
    set_side(range.below_db, "lower_db", "below_db", -1);
    set_side(range.below_to_db, "lower_to_db", "below_to_db", -1);
    entry.set_unknown(range.unknown);
    return entry;
}

Weights read_weights(ObjectReader object) {
    Weights weights;
    weights.points = read_weight_curve(object, "points");
    object.each("ranges", [&](ObjectReader range) {
        WeightRange read{
            range.number("from_hz"), range.number("to_hz"), range.number("weight"), {}};
        read.unknown = range.unknown();
        weights.ranges.push_back(std::move(read));
    });
    weights.unknown = object.unknown();
    return weights;
}

Json weights_json(const Weights& weights) {
    Json object;
    object.set("points", weight_curve_json(weights.points));
    object.set("ranges", list_json(weights.ranges, [](const WeightRange& range) {
                   Json entry;
                   entry.set("from_hz", range.from_hz)
                       .set("to_hz", range.to_hz)
                       .set("weight", range.weight);
                   entry.set_unknown(range.unknown);
                   return entry;
               }));
    object.set_unknown(weights.unknown);
    return object;
}

} // namespace

Goal read_goal(ObjectReader object) {
    Goal goal;
    goal.id = object.text("id");
    goal.name = object.text_or("name", goal.id);
    if (object.has("target")) {
        goal.target = read_target(object.object("target"));
    }
    goal.phase_target = read_target_line(object, "phase_target", "phase_deg");
    goal.delay_target = read_target_line(object, "delay_target", "delay_ms");
    object.each("corridor",
                [&](ObjectReader range) { goal.corridor.push_back(read_range(std::move(range))); });
    if (object.has("weights")) {
        goal.weights = read_weights(object.object("weights"));
    }
    object.each("requirements", [&](ObjectReader requirement) {
        goal.requirements.push_back(read_requirement(std::move(requirement)));
    });
    goal.unknown = object.unknown();
    return goal;
}

Json goal_json(const Goal& goal) {
    Json object;
    object.set("id", goal.id);
    object.set("name", goal.name);
    object.set("target", target_json(goal.target));
    write_target_line(object, "phase_target", "phase_deg", goal.phase_target);
    write_target_line(object, "delay_target", "delay_ms", goal.delay_target);
    object.set("corridor", list_json(goal.corridor, range_json));
    if (goal.weights != Weights{}) {
        object.set("weights", weights_json(goal.weights));
    }
    if (!goal.requirements.empty()) {
        object.set("requirements", list_json(goal.requirements, requirement_json));
    }
    object.set_unknown(goal.unknown);
    return object;
}

} // namespace syntonon
