// All that is asked about a chain in words.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/word/headroom.h"
#include "core/word/limit_cycles.h"
#include "core/word/output_noise.h"

#include <optional>
#include <vector>

namespace syntonon {

struct LevelDeviation {
    double worst_db = 0;
    double worst_hz = 0;
};
// The greatest deviation of level from the design, from 20 Hz to 0.45 of the rate, around every
// root; where the design is more than 60 dB below its greatest level, nothing counts.
LevelDeviation level_deviation(const Filter& words, const Filter& wished, double sample_rate_hz);

struct WordFacts {
    LevelDeviation deviation;
    bool is_stable = true; // where it is not, the rest is missing
    std::optional<OutputNoise> noise;
    std::vector<NodeLevel> levels;
    std::optional<LimitCycleSearch> cycles;
};
// Refused when the watch is stopped.
Expected<WordFacts> word_facts(const WordChain& chain, const Filter& wished, double sample_rate_hz,
                               const Watch& watch = {});

} // namespace syntonon
