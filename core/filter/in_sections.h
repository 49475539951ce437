// Second-order sections in series that make up a whole form of filter.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/form.h"

#include <vector>

namespace syntonon {

// Refused where the form has none, saying why.
Expected<Cascade> sections_of(const AnyForm& form);
// Sections, whole samples of delay and taps, one after the other, in whatever order: together they
// are the filter.
struct SeriesParts {
    Cascade cascade;
    std::size_t delay_samples = 0;
    std::vector<double> taps; // of all FIRs, convolved; empty: there is none
};
Filter filter_of(const SeriesParts& parts);
// Refused where the form is made of something else, or its taps would be more than a million.
Expected<SeriesParts> series_parts_of(const AnyForm& form);
// The same in the s-plane, of analog sections and gains in series.
Expected<AnalogCascade> analog_sections_of(const AnyForm& form);

} // namespace syntonon
