// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/word_chain.h"

#include "core/filter/cascade.h"
#include "core/filter/delay.h"
#include "core/filter/taps.h"

namespace syntonon {

Cascade cascade_of(const WordChain& chain) {
    Cascade cascade;
    for (const StructuredSection& section : chain.sections) {
        cascade.sections.push_back(biquad_of(section, chain.structure));
    }
    return cascade;
}

Filter filter_of(const WordChain& chain) {
    std::vector<Filter> parts;
    if (!chain.sections.empty()) {
        parts.emplace_back(cascade_of(chain));
    }
    if (!chain.taps.empty()) {
        parts.emplace_back(Taps(chain.taps));
    }
    if (chain.delay_samples > 0) {
        parts.emplace_back(Delay{chain.delay_samples});
    }
    return series(parts);
}

} // namespace syntonon
