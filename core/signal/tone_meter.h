// What a tone of one frequency comes out as, measured on the running filter.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

namespace syntonon {

class Filter;

// Out over in, in dB: a sine runs through the filter until what it began with has died away, and
// what comes out then is fitted by a sine of that frequency (least squares). Refused for an analog
// or unstable filter and for one that rings for longer than 2^20 samples.
Expected<double> measured_gain_db(const Filter& filter, double frequency_hz, double sample_rate_hz);

} // namespace syntonon
