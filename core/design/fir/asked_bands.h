// What an FIR is asked for as bands, however it is stated.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir.h"

#include <span>
#include <vector>

namespace syntonon {

bool is_by_edges(const FirSpec& spec); // windowed, half the gain at each
// By bands, the goal, edges or tolerances.
bool is_asked_for_bands(const FirSpec& spec);
// Of edges alone the bands that the taps come to (see natural_bands). Refuses what the method does.
Expected<Amplitude> bands_asked_for(const FirSpec& spec, const Brief& brief,
                                    std::span<const double> taps);

// The goal's bands as bands of its own.
Expected<FirSpec> with_own_bands(FirSpec spec, const Brief& brief);
// Each gap between bands of different gain, about its middle; bands keep a twentieth of their
// width.
void scale_gaps(std::vector<FirBand>& bands, double ratio);

} // namespace syntonon
