// Sections' coefficients rounded to doubles together, so that their errors cancel where it counts.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/sections.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

struct ScaledDraft {
    SectionDraft draft;
    long double gain = 1;
};

// b0, b1, b2 and 1, a1, a2 of each. At low frequencies a coefficient's last bit moves the level at
// an edge by 1e-8 dB and more. Of the neighbours of each coefficient those are taken whose errors,
// added up over all sections, are least at `places` (z). What all places after the first one, which
// is the gain's reference, have in common is taken from the gain.
std::vector<Biquad> rounded_together(const std::vector<ScaledDraft>& sections,
                                     std::span<const std::complex<double>> places);

} // namespace syntonon
