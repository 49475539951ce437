// Any filter at work.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/engine/engine.h"

#include <memory>

namespace syntonon {

class Filter;

// FIRs of more taps than this run by transforms of their parts; bench_engine tells from where on
// that is quicker.
inline constexpr std::size_t most_direct_taps = 150;

// Each form in its own way: sections in transposed direct form II, FIRs directly or in parts, sums
// branch by branch, loops sample by sample (one without delay is solved at every sample). Nothing
// comes later than the filter says. Refused for an analog filter.
Expected<std::unique_ptr<Engine>> engine_of(const Filter& filter);

} // namespace syntonon
