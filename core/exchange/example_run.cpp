// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/example_run.h"

#include "core/engine/word_engine.h"

#include <algorithm>
#include <random>

namespace syntonon {
namespace {

std::vector<double> input_for(const Word& data) {
    std::vector<double> input(example_samples);
    std::mt19937 random(1);
    const double full = greatest_of(data), low = least_of(data);
    input[0] = std::min(1.0, full) / 2;
    for (std::size_t n = 256; n < 896; ++n) {
        const double level = static_cast<double>(n - 255) / 640 * std::min(1.0, full);
        input[n] = level * (static_cast<double>(random()) / 2147483648.0 - 1);
    }
    for (std::size_t n = 896; n < example_samples; ++n) {
        input[n] = (n / 24) % 2 == 0 ? full : low;
    }
    for (double& x : input) {
        x = rounded(x, data, Rounding::nearest);
    }
    return input;
}

} // namespace

ExampleRun example_run(const WordChain& chain) {
    ExampleRun run;
    run.input = run.output = input_for(chain.section_words.data);
    WordEngine(chain).process(run.output);
    return run;
}

} // namespace syntonon
