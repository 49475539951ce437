// Curves, what they were measured as, and gates as JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/study/json_reader.h"
#include "core/study/study.h"

namespace syntonon {

// One that has an origin is not worked out yet; of a file by reference the points that were kept
// beside it stand in until it is read.
Curve read_curve(ObjectReader object);
Json curve_json(const Curve& curve);

NamedGate read_gate(ObjectReader& object);
Json gate_json(const NamedGate& gate);

} // namespace syntonon
