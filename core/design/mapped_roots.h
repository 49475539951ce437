// A band's analog roots as drafts of sections, in the s-plane or mapped to the z-plane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/band_roots.h"
#include "core/design/sections.h"

namespace syntonon {

struct SectionDrafts {
    std::vector<SectionDraft> drafts;
    GainReference reference;
};

// As they are, for an analog channel.
SectionDrafts analog_drafts(const BandRoots& roots, ClassicalBand band, SectionPairing pairing);

// z = (1 + s/c) / (1 - s/c), c = 2 fs: edges must have been prewarped. Zeros at infinity come to
// half the sample rate. (Oppenheim and Schafer, section 7.2.2.)
SectionDrafts bilinear_drafts(const BandRoots& roots, ClassicalBand band, SectionPairing pairing,
                              double sample_rate_hz);

// z = e^(s/fs), root by root; zeros at infinity are left at the plane's origin, where they change
// nothing. The gain is the analog one at 0 Hz, half the rate or the band's middle. (L. R. Rabiner
// and B. Gold, Theory and Application of Digital Signal Processing, 1975, section 4.6.)
SectionDrafts matched_drafts(const BandRoots& roots, ClassicalBand band, SectionPairing pairing,
                             double sample_rate_hz);

// Conjugate pairs, then real roots two by two by their size; Q of a pair |s| / (-2 Re s).
std::vector<RootPair> analog_pairs(const std::vector<std::complex<double>>& roots);
double q_of(const RootPair& analog_poles);

// |H| of the band at an angular frequency.
double level_of(const BandRoots& roots, ClassicalBand band, double rad_per_s);

} // namespace syntonon
