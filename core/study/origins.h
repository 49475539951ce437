// The study's curves that are worked out, brought up to date.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

#include <functional>

namespace syntonon {

// The curve worked out with the gate and the microphone of the study that it names. Refused by the
// field's name where one is not there, or nothing comes of it.
Expected<Curve> worked_out(const Study& study, const Curve& curve);

// Those of the study's curves that `chosen` says; the others, and those without an origin, stay.
// On a refusal ("curves[2].gate") none of them is changed.
Expected<void> work_out_curves(Study& study, const std::function<bool(const Curve&)>& chosen);

} // namespace syntonon
