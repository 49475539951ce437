// How a channel's chain is played on the bench.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/played_voices.h"
#include "core/signal/recipe.h"

namespace syntonon {

// Notes are played note by note; any other signal goes through one voice.
Playing playing_of(const Recipe& recipe, const Modulation& modulation);

} // namespace syntonon
