// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/convolution_load.h"

#include "core/engine/direct_fir.h"
#include "core/engine/flush_denormals.h"
#include "core/engine/partitioned_fir.h"

#include <algorithm>
#include <ctime>
#include <random>

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
