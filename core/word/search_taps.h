// An FIR's taps as words whose errors cancel.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/watch.h"
#include "core/word/arithmetic.h"
#include "core/word/word_aim.h"

#include <vector>

namespace syntonon {

inline constexpr std::size_t most_searched_taps = 512;

// The nearest words; then, of up to 512 taps, each a step up or down as long as the worst error at
// the places becomes less, a symmetric FIR's two equal ones together. `other_db` is what the rest
// of the chain deviates. Refused as nearest_taps is.
Expected<std::vector<double>> searched_taps(const std::vector<double>& taps, const Arithmetic& how,
                                            const WordPlaces& places,
                                            const std::vector<double>& other_db,
                                            const Watch& watch = {});

} // namespace syntonon
