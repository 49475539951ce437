// Settings in the parameters of calls and answers (AES70-3): read, set, and answered.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/device/oca/classes.h"
#include "core/device/oca/settings.h"

#include <vector>

namespace syntonon::oca {

// What is to be asked of an object to learn its state, in this order; empty for the others.
std::vector<MethodId> reading_methods(Kind kind);
// From the answers to these. Refused where one is not as the standard has it.
Expected<ObjectState> state_from(Kind kind, const std::vector<Parameters>& answers);
// The device's side of it: what it answers to these methods.
std::vector<Parameters> answers_of(const ObjectState& state);
// One call that sets all of it at once.
struct SettingCall {
    MethodId method;
    Parameters parameters;
};
SettingCall call_to_set(const Setting& setting);
// As it stands in that call's parameters: what a device does with it.
Expected<Setting> setting_in(Kind kind, const Parameters& parameters);

} // namespace syntonon::oca
