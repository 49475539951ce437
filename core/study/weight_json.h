// A curve of weights as JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/design/weight_curve.h"
#include "core/study/json_reader.h"

namespace syntonon {

// Empty where the key is not there.
WeightCurve read_weight_curve(ObjectReader& object, const char* key);
Json weight_curve_json(const WeightCurve& points);

} // namespace syntonon
