// All words near some.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/structure.h"

#include <vector>

namespace syntonon {

// Calls `use` with every way of moving those numbers by up to `reach` steps each.
template <class Use>
void each_around(StructuredSection words, const std::vector<std::size_t>& numbers, int reach,
                 double step, const Use& use) {
    const StructuredSection middle = words;
    std::vector<int> moved(numbers.size(), -reach);
    for (;;) {
        for (std::size_t i = 0; i < numbers.size(); ++i) {
            words.values[numbers[i]] = middle.values[numbers[i]] + step * moved[i];
        }
        use(words);
        std::size_t i = 0;
        while (i < moved.size() && moved[i] == reach) {
            moved[i++] = -reach;
        }
        if (i == moved.size()) {
            return;
        }
        ++moved[i];
    }
}

} // namespace syntonon
