// Signals in JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/engine/modulation.h"
#include "core/signal/recipe.h"
#include "core/study/json_reader.h"

#include <string_view>

namespace syntonon {

Signal read_signal(ObjectReader object);
Json signal_json(const Signal& signal);

void read_modulation(ObjectReader object, Modulation& modulation);
Json modulation_json(const Modulation& modulation);

// An object with a kind and its fields, as a study's signals have them; what is not given is as a
// new one begins. Refuses keys that the kind has not.
Expected<Recipe> recipe_from_json(std::string_view text);

} // namespace syntonon
