// The forms of filter, all of them. Only what handles every form includes this.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/analog_cascade.h"
#include "core/filter/cascade.h"
#include "core/filter/computed.h"
#include "core/filter/delay.h"
#include "core/filter/gain.h"
#include "core/filter/loop.h"
#include "core/filter/oversampled.h"
#include "core/filter/parallel.h"
#include "core/filter/repeated.h"
#include "core/filter/series.h"
#include "core/filter/taps.h"

#include <variant>

namespace syntonon {

// A form answers, in its own pair of files: prober, add_telling_hz, roots_of (sums, loops and
// what is oversampled in rational.h), finite_samples, run, latency_samples, cost, bytes_of.
struct AnyForm : std::variant<Cascade, Taps, Delay, Gain, Series, ParallelSum, Loop, Repeated,
                              Computed, Oversampled, AnalogCascade> {
    using variant::variant;
};

} // namespace syntonon
