// What a chain costs on a processor: cycles, memory, latency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/processor.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// How an FIR runs.
enum class Convolution { direct, block };

// What a channel asks of the processor.
struct ChannelDemand {
    std::string channel; // its id
    std::size_t sections = 0, taps = 0, delay_samples = 0;
    double filter_latency_samples = 0; // of the filter itself: a linear-phase FIR's half, a delay
    Structure structure = Structure::direct_form_1;
};

// Cycles of a sample, and words of memory.
struct ConvolutionCost {
    double cycles = 0, coefficient_words = 0, state_words = 0;
    double added_latency_samples = 0; // beyond the block that comes in
};
ConvolutionCost direct_cost(std::size_t taps, const Processor& processor);
// Nothing where the processor has no transforms.
std::optional<ConvolutionCost> block_cost(std::size_t taps, const Processor& processor,
                                          int block_frames);
// The one with fewer cycles.
Convolution cheaper(std::size_t taps, const Processor& processor, int block_frames);
// The shortest FIR for which block convolution takes fewer cycles; nothing where it never does up
// to 2^20 taps.
std::optional<std::size_t> break_even_taps(const Processor& processor, int block_frames);

struct ChannelCost {
    std::string channel;
    Convolution convolution = Convolution::direct;
    double cycles = 0; // a sample
    double coefficient_words = 0, state_words = 0;
    double latency_samples = 0; // from converter to converter, block and filter included
};

// What of the processor is used, all channels together.
struct BudgetLine {
    std::string_view what; // "cycles", "sections", "taps", "coefficient memory", "state memory"
    std::string_view unit; // "a sample", "", "words"
    double used = 0;
    std::optional<double> available = {}; // nothing: no limit is stated

    double share() const { return available && *available > 0 ? used / *available : used > 0; }
};

struct Budget {
    std::vector<ChannelCost> channels;
    std::vector<BudgetLine> lines;
    double latency_samples = 0; // the longest of the channels

    // The line that is nearest to its limit, or farthest beyond it; null when none has a limit.
    const BudgetLine* tightest() const;
    bool fits() const;
};
Budget budget_of(const std::vector<ChannelDemand>& channels, const Processor& processor,
                 double sample_rate_hz, int block_frames);

} // namespace syntonon
