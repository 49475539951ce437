// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/named_json.h"
#include "core/study/spec_json.h"

namespace syntonon {
namespace {

// What is as usual is not written.
void write_flag(Json& object, std::string_view key, bool value, bool usual) {
    if (value != usual) {
        object.set(key, value);
    }
}

} // namespace

void read_spec(ObjectReader& object, LadderSpec& spec) {
    read_named(object, "type", names_of_ladder_types(), spec.type);
    read_named(object, "response", names_of_ladder_responses(), spec.response);
    spec.saturating = object.boolean_or("saturating", spec.saturating);
    spec.prewarped = object.boolean_or("prewarped", spec.prewarped);
    spec.frequency_hz = object.number("frequency_hz");
    read_fields(object, spec, {"resonance", "drive_db", "bass_compensation"});
    spec.oversampling = object.integer_or("oversampling", spec.oversampling);
}

void write_spec(Json& object, const LadderSpec& spec) {
    const LadderSpec usual;
    object.set("type", key_of_named(names_of_ladder_types(), spec.type));
    object.set("response", key_of_named(names_of_ladder_responses(), spec.response));
    write_fields(object, spec);
    write_flag(object, "saturating", spec.saturating, usual.saturating);
    write_flag(object, "prewarped", spec.prewarped, usual.prewarped);
}

void read_spec(ObjectReader& object, StateVariableSpec& spec) {
    read_named(object, "response", names_of_state_variable_responses(), spec.response);
    spec.saturating = object.boolean_or("saturating", spec.saturating);
    spec.prewarped = object.boolean_or("prewarped", spec.prewarped);
    spec.frequency_hz = object.number("frequency_hz");
    read_fields(object, spec, {"resonance", "gain_db", "drive_db"});
    spec.in_series = object.integer_or("in_series", spec.in_series);
    spec.oversampling = object.integer_or("oversampling", spec.oversampling);
}

void write_spec(Json& object, const StateVariableSpec& spec) {
    const StateVariableSpec usual;
    object.set("response", key_of_named(names_of_state_variable_responses(), spec.response));
    write_fields(object, spec);
    write_flag(object, "saturating", spec.saturating, usual.saturating);
    write_flag(object, "prewarped", spec.prewarped, usual.prewarped);
}

} // namespace syntonon
