// A sound at another sample rate, converted piece by piece.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/sound_stream.h"

namespace syntonon {

// Reads as `sound` would if it had been sampled at the new rate: what lies above the lower half
// rate of the two is lost, the rest is right to about 1e-6 of full scale (single precision).
// Refuses rates further apart than 256 to 1.
Expected<std::unique_ptr<SoundReader>> converted(std::unique_ptr<SoundReader> sound,
                                                 double sample_rate_hz);

} // namespace syntonon
