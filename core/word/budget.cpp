// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/budget.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::size_t most_taps_looked_at = std::size_t{1} << 20;

// Of a structure that the processor has not, its first.
double section_cycles(Structure structure, const Processor& p) {
    const auto found = std::ranges::find(p.structures, structure, &StructureCycles::structure);
    return (found == p.structures.end() ? p.structures.front() : *found).cycles;
}

ChannelCost cost_of(const ChannelDemand& demand, const Processor& p, int block_frames) {
    ChannelCost cost{demand.channel};
    const auto sections = static_cast<double>(demand.sections);
    const Network& network = network_of(demand.structure, false);
    cost.convolution = cheaper(demand.taps, p, block_frames);
    const ConvolutionCost fir = cost.convolution == Convolution::block
                                    ? *block_cost(demand.taps, p, block_frames)
                                    : direct_cost(demand.taps, p);
    cost.cycles = p.channel_cycles + sections * section_cycles(demand.structure, p) + fir.cycles;
    cost.coefficient_words =
        sections * static_cast<double>(network.coefficients.size()) + fir.coefficient_words;
    cost.state_words = sections * static_cast<double>(network.next.size()) + fir.state_words
                       + static_cast<double>(demand.delay_samples);
    // A block is collected while the one before it is given out.
    const double of_blocks = block_frames > 1 ? 2.0 * block_frames : 0;
    cost.latency_samples =
        p.converter_samples + of_blocks + fir.added_latency_samples + demand.filter_latency_samples;
    return cost;
}

} // namespace

ConvolutionCost direct_cost(std::size_t taps, const Processor& p) {
    const auto count = static_cast<double>(taps);
    return {count * p.tap_cycles, count, count, 0};
}

std::optional<ConvolutionCost> block_cost(std::size_t taps, const Processor& p, int block_frames) {
    if (!p.block_convolution || taps == 0) {
        return std::nullopt;
    }
    const BlockConvolution& block = *p.block_convolution;
    const double part = block.part_taps, points = 2 * part;
    const double parts = std::ceil(static_cast<double>(taps) / part);
    const double transforms = 2 * block.transform_cycles * points * std::log2(points);
    const double products = parts * (part + 1) * block.bin_cycles;
    ConvolutionCost cost;
    cost.cycles = (transforms + products) / part;
    // Each part's spectrum and each past block's, of P + 1 complex bins; and what is between them.
    cost.coefficient_words = parts * 2 * (part + 1);
    cost.state_words = parts * 2 * (part + 1) + 3 * part;
    cost.added_latency_samples = std::max(0.0, part - block_frames);
    return cost;
}

Convolution cheaper(std::size_t taps, const Processor& p, int block_frames) {
    const auto block = block_cost(taps, p, block_frames);
    return block && block->cycles < direct_cost(taps, p).cycles ? Convolution::block
                                                                : Convolution::direct;
}

std::optional<std::size_t> break_even_taps(const Processor& p, int block_frames) {
    // Between whole parts the one rises and the other stays, so each part is looked at at its end,
    // then tap by tap.
    const std::size_t part =
        p.block_convolution ? static_cast<std::size_t>(p.block_convolution->part_taps) : 1;
    for (std::size_t end = part; p.block_convolution && end <= most_taps_looked_at; end += part) {
        if (cheaper(end, p, block_frames) == Convolution::direct) {
            continue;
        }
        std::size_t taps = end;
        while (taps > end - part + 1 && cheaper(taps - 1, p, block_frames) == Convolution::block) {
            --taps;
        }
        return taps;
    }
    return std::nullopt;
}

Budget budget_of(const std::vector<ChannelDemand>& channels, const Processor& p,
                 double sample_rate_hz, int block_frames) {
    Budget budget;
    BudgetLine cycles{"cycles", "a sample", p.block_cycles / std::max(block_frames, 1),
                      p.clock_hz * p.usable_share / sample_rate_hz};
    BudgetLine sections{"sections", ""}, taps{"taps", ""};
    BudgetLine coefficients{"coefficient memory", "words"}, states{"state memory", "words"};
    for (const ChannelDemand& demand : channels) {
        ChannelCost cost = cost_of(demand, p, block_frames);
        cycles.used += cost.cycles;
        coefficients.used += cost.coefficient_words;
        states.used += cost.state_words;
        sections.used += static_cast<double>(demand.sections);
        taps.used += static_cast<double>(demand.taps);
        budget.latency_samples = std::max(budget.latency_samples, cost.latency_samples);
        budget.channels.push_back(std::move(cost));
    }
    sections.available = p.most_sections;
    taps.available = p.most_taps;
    coefficients.available = p.coefficient_words;
    states.available = p.state_words;
    budget.lines = {cycles, sections, taps, coefficients, states};
    return budget;
}

const BudgetLine* Budget::tightest() const {
    const BudgetLine* worst = nullptr;
    for (const BudgetLine& line : lines) {
        if (line.available && (worst == nullptr || line.share() > worst->share())) {
            worst = &line;
        }
    }
    return worst;
}

bool Budget::fits() const {
    return std::ranges::all_of(lines, [](const BudgetLine& line) {
        return !line.available || line.used <= *line.available * (1 + 1e-12);
    });
}

} // namespace syntonon
