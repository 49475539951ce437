// A second-order section whose level follows an analog one up to half the sample rate.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/analog_cascade.h"
#include "core/filter/filter.h"

namespace syntonon {

struct AnalogPrototype {
    AnalogSection section;
    Roots roots;             // of it
    double frequency_hz = 0; // where the level is matched beside 0 Hz and half the rate
};

// Poles e^(p/fs); the numerator's |N|^2 = B0 cos^2(w/2) + B1 sin^2(w/2) + B2 sin^2(w) from the
// three levels, and N from that (M. Vicanek, Matched Second Order Digital Filters, 2016, eq.
// 26-31). A notch has its zeros at the frequency itself; gain and poles are then those with which
// the levels at 0 Hz, half the rate and the notch's half-power points are right. Refused, naming
// `mapping`, where no real section has these levels.
Expected<Filter> nyquist_matched(const AnalogPrototype& prototype, double sample_rate_hz);

} // namespace syntonon
