// A state-variable filter, for instruments and effects: steady however it is moved while it sounds.
// See filter/modelled/state_variable_kernel.h for its equations and their sources.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/design/design.h"
#include "core/design/field.h"
#include "core/filter/modelled/state_variable_build.h"

#include <span>
#include <string>
#include <string_view>

namespace syntonon {

struct StateVariableSpec {
    static constexpr std::string_view kind = "state_variable";

    modelled::StateVariableResponse response = modelled::StateVariableResponse::low;
    double frequency_hz = 1000;
    double resonance = 0.29289321881345254; // Q = 1 / (2 (1 - resonance)): Butterworth's
    double gain_db = 0;                     // peak and shelves
    int in_series = 1;                      // so many alike, 1 to 4
    double drive_db = 0;                    // into the bend of what saturates, and out again
    bool saturating = false;                // what goes in
    bool prewarped = true;
    int oversampling = 1; // 1, 2, 4, 8

    bool operator==(const StateVariableSpec&) const = default;
};

modelled::StateVariableBuild build_of(const StateVariableSpec& spec);
modelled::StateVariableKnobs knobs_of(const StateVariableSpec& spec);
bool has_gain(modelled::StateVariableResponse response);
double q_of(const StateVariableSpec& spec);

// Refuses, naming the field: a frequency off the axis, an oversampling that there is not.
Expected<Design> design(const StateVariableSpec& spec, const Brief& brief, const Watch& watch);
std::span<const NumberField<StateVariableSpec>> fields_of(const StateVariableSpec& spec);
std::span<const NamedValue<modelled::StateVariableResponse>> names_of_state_variable_responses();
std::string title_of(const StateVariableSpec& spec);
std::string summary_of(const StateVariableSpec& spec);
std::string spoken_name_of(const StateVariableSpec& spec);

} // namespace syntonon
