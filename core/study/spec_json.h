// Each kind of stage in JSON. A kind adds its pair here.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/parametric.h"
#include "core/study/json_reader.h"

namespace syntonon {

void read_spec(ObjectReader& object, ParametricSpec& spec);
void write_spec(Json& object, const ParametricSpec& spec);

} // namespace syntonon
