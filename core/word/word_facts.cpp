// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/word_facts.h"

#include "core/word/word_aim.h"

#include <cmath>

namespace syntonon {

LevelDeviation level_deviation(const Filter& words, const Filter& wished, double sample_rate_hz) {
    const WordPlaces places(plain_aim(wished, sample_rate_hz));
    const std::vector<double> deviation =
        difference_of(places.levels_of(words), places.levels_of(wished));
    LevelDeviation worst{0, places.grid().frequency_hz().front()};
    for (std::size_t i = 0; i < deviation.size(); ++i) {
        if (std::abs(deviation[i]) > worst.worst_db) {
            worst = {std::abs(deviation[i]), places.grid().frequency_hz()[i]};
        }
    }
    return worst;
}

Expected<WordFacts> word_facts(const WordChain& chain, const Filter& wished, double sample_rate_hz,
                               const Watch& watch) {
    WordFacts facts;
    const Filter words = filter_of(chain);
    facts.deviation = level_deviation(words, wished, sample_rate_hz);
    facts.is_stable = words.is_stable();
    if (!facts.is_stable) {
        return facts;
    }
    if (auto noise = output_noise(chain, sample_rate_hz)) {
        facts.noise = std::move(*noise);
    }
    if (auto levels = node_levels(chain)) {
        facts.levels = std::move(*levels);
    }
    auto cycles = find_limit_cycles(chain, watch);
    if (!cycles) {
        return tl::unexpected(cycles.error());
    }
    facts.cycles = std::move(*cycles);
    return facts;
}

} // namespace syntonon
