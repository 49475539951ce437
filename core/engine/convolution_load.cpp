// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/convolution_load.h"

#include "core/base/number_text.h"
#include "core/engine/direct_fir.h"
#include "core/engine/flush_denormals.h"
#include "core/engine/partitioned_fir.h"

#include <algorithm>
#include <cmath>
#include <ctime>
#include <fmt/format.h>
#include <random>
#include <sstream>
#include <string>

namespace syntonon {
namespace {

constexpr double least_seconds = 0.02;
constexpr int runs = 2;

double own_seconds() {
    timespec now{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
    return static_cast<double>(now.tv_sec) + 1e-9 * static_cast<double>(now.tv_nsec);
}

std::vector<double> random_values(std::size_t count, unsigned seed) {
    std::mt19937 random(seed);
    std::vector<double> values(count);
    for (double& value : values) {
        value = static_cast<double>(random()) / 2147483648.0 - 1;
    }
    return values;
}

// Seconds of its own time by seconds of signal. At least so many samples go through that every
// block of a partition has been at work several times.
double load_of(Engine& engine, std::size_t least_samples, std::size_t block_frames,
               double sample_rate_hz) {
    const std::vector<double> input = random_values(block_frames, 2);
    std::vector<double> block(block_frames);
    std::size_t samples = 0;
    const double began = own_seconds();
    double spent = 0;
    while (spent < least_seconds || samples < least_samples) {
        block = input;
        engine.process(block);
        samples += block_frames;
        spent = own_seconds() - began;
    }
    return spent / (static_cast<double>(samples) / sample_rate_hz);
}

} // namespace

std::vector<std::size_t> usual_tap_counts() {
    std::vector<std::size_t> counts;
    for (std::size_t taps = 128; taps <= 65536; taps *= 2) {
        counts.push_back(taps);
    }
    return counts;
}

std::optional<std::size_t> break_even_taps(std::span<const ConvolutionLoad> loads) {
    for (std::size_t i = 1; i < loads.size(); ++i) {
        const double before = loads[i - 1].direct - loads[i - 1].block,
                     then = loads[i].direct - loads[i].block;
        if (before <= 0 && then > 0 && loads[i].taps > loads[i - 1].taps) {
            const double step = static_cast<double>(loads[i].taps - loads[i - 1].taps);
            return loads[i - 1].taps
                   + static_cast<std::size_t>(std::ceil(step * -before / (then - before)));
        }
    }
    return {};
}

Expected<std::vector<std::size_t>> tap_counts_from(std::string_view list) {
    constexpr double most = 1 << 20;
    std::vector<std::size_t> counts;
    std::istringstream parts{std::string(list)};
    for (std::string part; std::getline(parts, part, ',');) {
        const auto count = number_from_text(trimmed(part));
        if (!count || !(*count >= 1 && *count <= most) || *count != std::floor(*count)) {
            return refuse("", fmt::format("“{}” is no number of taps", part),
                          "give numbers from 1 to 1048576, parted by commas");
        }
        counts.push_back(static_cast<std::size_t>(*count));
    }
    if (counts.empty()) {
        return refuse("", "none is given", "give one or more, as 256, 1500, 6000");
    }
    return counts;
}

Expected<std::vector<ConvolutionLoad>> measured_loads(std::span<const std::size_t> taps,
                                                      std::size_t block_frames,
                                                      double sample_rate_hz, const Watch& watch) {
    const FlushDenormals flush;
    std::vector<ConvolutionLoad> loads;
    for (const std::size_t count : taps) {
        const std::vector<double> answer = random_values(count, 1);
        ConvolutionLoad load{count};
        for (int run = 0; run < runs; ++run) {
            if (watch.is_stopped()) {
                return refuse("", "measuring was stopped", "measure again");
            }
            DirectFir direct(answer);
            PartitionedFir block(answer);
            load.direct_bytes = sizeof(double) * direct.held_numbers();
            load.block_bytes = sizeof(double) * block.held_numbers();
            const double by_sum = load_of(direct, 0, block_frames, sample_rate_hz);
            const double in_parts =
                load_of(block, std::size_t{8192} + count, block_frames, sample_rate_hz);
            load.direct = run == 0 ? by_sum : std::min(load.direct, by_sum);
            load.block = run == 0 ? in_parts : std::min(load.block, in_parts);
        }
        loads.push_back(load);
        watch.report(static_cast<double>(loads.size()) / static_cast<double>(taps.size()));
    }
    return loads;
}

} // namespace syntonon
