// What is sent through a filter in words to compare source text with it, and what comes out.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/word_chain.h"

#include <cstddef>
#include <vector>

namespace syntonon {

inline constexpr std::size_t example_samples = 1024;

// An impulse, silence, noise of growing level, and full scale from end to end, as values of the
// data's word. The same each time.
struct ExampleRun {
    std::vector<double> input, output;
};
ExampleRun example_run(const WordChain& chain);

} // namespace syntonon
