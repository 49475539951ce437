// Any number of a stage, to be turned: a field, a coefficient, a factor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/quantity.h"
#include "core/design/field.h"
#include "core/study/stage.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

struct Knob {
    std::string key;     // "gain_db", "a[2]"
    std::string caption; // "Gain", "a 2"
    std::string unit;
    Dimension dimension = Dimension::plain;
    double least = 0, most = 0; // what the field allows
    FieldSteps steps = FieldSteps::by_tenth;
    double value = 0; // now
};

// Those that apply, fields first. Of long rows the first 512.
std::vector<Knob> knobs_of(const StageSpec& spec);
std::optional<Knob> knob_of(const StageSpec& spec, std::string_view key);
// False where there is no such number.
bool turn(StageSpec& spec, std::string_view key, double value);

// A range to begin with, around the value, within what is allowed: an octave either way of what
// goes by ratio, a useful step of the rest.
struct KnobRange {
    double low = 0, high = 1;

    bool operator==(const KnobRange&) const = default;
};
KnobRange usual_range(const Knob& knob);

} // namespace syntonon
