// Second-order sections in series that make up a whole form of filter.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/form.h"

namespace syntonon {

// Refused where the form has none, saying why.
Expected<Cascade> sections_of(const AnyForm& form);
// The same in the s-plane, of analog sections and gains in series.
Expected<AnalogCascade> analog_sections_of(const AnyForm& form);

} // namespace syntonon
