// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/named_json.h"
#include "core/study/spec_json.h"
#include "core/study/target_json.h"

namespace syntonon {

void read_spec(ObjectReader& object, FittedSpec& spec) {
    spec.order = static_cast<int>(object.integer_or("order", spec.order));
    if (object.has("numerator_order")) {
        spec.numerator_order = static_cast<int>(object.integer_or("numerator_order", 0));
    }
    read_named(object, "match", names_of_fitted_matches(), spec.match);
    read_named(object, "errors", names_of_fitted_errors(), spec.errors);
    read_named(object, "axis", names_of_fitted_axes(), spec.axis);
    read_named(object, "method", names_of_impulse_methods(), spec.method);
    spec.curve = object.text_or("curve", "");
    spec.channel = object.text_or("channel", "");
    spec.length = static_cast<int>(object.integer_or("length", spec.length));
    read_fields(object, spec, {"from_hz", "to_hz", "warping", "greatest_q"});
    const bool by_goal = object.boolean_or("use_goal", false);
    if (by_goal && object.has("target")) {
        object.fail("target", "stands beside use_goal: true", "leave one of them out");
    } else if (object.has("target")) {
        spec.target = read_target(object.object("target"));
    }
    spec.phase_target = read_target_line(object, "phase_target", "phase_deg");
    spec.delay_target = read_target_line(object, "delay_target", "delay_ms");
    spec.refits = object.boolean_or("refits", false);
    spec.zeros = object.complex_numbers("zeros");
    spec.poles = object.complex_numbers("poles");
    spec.gain = object.number_or("gain", 1);
    spec.delay_ms = object.number_or("delay_ms", 0);
    spec.delay_samples = static_cast<int>(object.integer_or("delay_samples", 0));
    spec.bound = object.number_or("bound", 0);
    spec.fitted_to = object.text_or("fitted_to", "");
    spec.fitted_aim_db = object.numbers("fitted_aim_db");
    spec.fitted_aim_deg = object.numbers("fitted_aim_deg");
}

void write_spec(Json& object, const FittedSpec& spec) {
    object.set("match", key_of_named(names_of_fitted_matches(), spec.match));
    write_fields(object, spec);
    if (spec.errors != FittedErrors::squares) {
        object.set("errors", key_of_named(names_of_fitted_errors(), spec.errors));
    }
    if (spec.axis != FittedAxis::log_frequency) {
        object.set("axis", key_of_named(names_of_fitted_axes(), spec.axis));
    }
    if (spec.match == FittedMatch::impulse) {
        object.set("method", key_of_named(names_of_impulse_methods(), spec.method));
        if (!spec.curve.empty()) {
            object.set("curve", spec.curve);
        }
    }
    if (!spec.channel.empty()) {
        object.set("channel", spec.channel);
    }
    if (spec.target) {
        object.set("target", target_json(*spec.target));
    } else if (spec.match != FittedMatch::impulse && spec.channel.empty()) {
        object.set("use_goal", true);
    }
    write_target_line(object, "phase_target", "phase_deg", spec.phase_target);
    write_target_line(object, "delay_target", "delay_ms", spec.delay_target);
    if (spec.refits) {
        object.set("refits", true);
    }
    if (!is_fitted(spec)) {
        return;
    }
    object.set("zeros", complex_numbers_json(spec.zeros));
    object.set("poles", complex_numbers_json(spec.poles));
    object.set("gain", spec.gain);
    if (spec.delay_ms != 0) {
        object.set("delay_ms", spec.delay_ms);
    }
    if (spec.delay_samples != 0) {
        object.set("delay_samples", spec.delay_samples);
    }
    if (spec.bound != 0) {
        object.set("bound", spec.bound);
    }
    object.set("fitted_to", spec.fitted_to);
    object.set("fitted_aim_db", Json::numbers(spec.fitted_aim_db));
    if (!spec.fitted_aim_deg.empty()) {
        object.set("fitted_aim_deg", Json::numbers(spec.fitted_aim_deg));
    }
}

} // namespace syntonon
