// In which order a cascade's sections run, and how the gain is shared out among them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/biquad.h"
#include "core/word/nearest_words.h"

#include <vector>

namespace syntonon {

struct SectionArrangement {
    std::vector<std::size_t> order; // of the given sections
    std::vector<double> gains;      // of each in that order; their product is 1

    bool operator==(const SectionArrangement&) const = default;
};

SectionArrangement as_given(const Cascade& cascade);
Cascade arranged(const Cascade& cascade, const SectionArrangement& arrangement);

// Sections that are a gain alone become part of another one's numerator, whose sign they may turn.
Cascade without_bare_gains(const Cascade& cascade);

// Gains by which a sine of full scale is as loud as the data's word holds after each section, but
// for the last, which brings the chain to its own gain (L. B. Jackson, Roundoff-noise analysis for
// fixed-point digital filters realized in cascade or parallel form, IEEE Trans. Audio
// Electroacoust. 18, 1970); numerators that would not fit their words stay below. The order with
// the least noise: all of them for up to six sections, else by exchanging two as long as that
// helps. Of floats it is the cascade as given.
SectionArrangement quiet_arrangement(const Cascade& cascade, const WordFormat& format);

// The greatest gain from the input to what each section gives out.
std::vector<double> peaks_along(const Cascade& cascade);

} // namespace syntonon
