// A sound through a filter piece by piece, however long it is.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/engine/engine.h"
#include "core/exchange/sound_stream.h"

#include <functional>
#include <memory>

namespace syntonon {

class Filter;

// Every channel by itself, from rest; then so much silence, for what rings on. What comes out is
// handed to `write`, channels side by side. Refused for an analog filter, when reading or writing
// is, and when the watch is stopped; the watch is told how far it is.
Expected<void> process_sound(SoundReader& in, const Filter& filter, double tail_s,
                             const std::function<Expected<void>(std::span<const double>)>& write,
                             const Watch& watch = {});
// The same through engines, one for each of the file's channels.
using MakeEngine = std::function<Expected<std::unique_ptr<Engine>>()>;
Expected<void> process_sound(SoundReader& in, const MakeEngine& make_engine, double tail_s,
                             const std::function<Expected<void>(std::span<const double>)>& write,
                             const Watch& watch = {});

} // namespace syntonon
