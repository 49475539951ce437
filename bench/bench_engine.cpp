// What running filters costs: a second of sound at 48 kHz in blocks of 64 samples. The counter
// `core_percent` is the share of a core that it takes at that rate.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/cascade_engine.h"
#include "core/engine/direct_fir.h"
#include "core/engine/partitioned_fir.h"
#include "core/math/fft.h"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <cmath>
#include <random>
#include <string>
#include <vector>

namespace {

using namespace syntonon;

constexpr std::size_t rate = 48000, block = 64;

std::vector<double> random_numbers(std::size_t count, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> value(-1, 1);
    std::vector<double> numbers(count);
    std::ranges::generate(numbers, [&] { return value(random); });
    return numbers;
}

void run_a_second(benchmark::State& state, Engine& engine) {
    const auto sound = random_numbers(rate, 1);
    std::vector<double> samples(block);
    for (auto step : state) {
        for (std::size_t at = 0; at + block <= rate; at += block) {
            std::copy_n(sound.begin() + static_cast<std::ptrdiff_t>(at), block, samples.begin());
            engine.process(samples);
        }
        benchmark::DoNotOptimize(samples.data());
    }
    state.counters["core_percent"] = benchmark::Counter(
        0.01, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}

// Peaks spread over the range, all different.
Cascade equaliser(std::size_t sections) {
    Cascade cascade;
    for (std::size_t i = 0; i < sections; ++i) {
        const double w = 0.002 * std::pow(1.25, static_cast<double>(i)), r = 1 - w / 4;
        cascade.sections.push_back(
            {1, -1.99 * r * std::cos(w), 0.98 * r * r, -2 * r * std::cos(w), r * r});
    }
    return cascade;
}

// 32 sections by structure, in the order of SectionStructure.
void sections_32(benchmark::State& state) {
    const auto structure = static_cast<SectionStructure>(state.range(0));
    auto engine = *cascade_engine(equaliser(32), structure);
    run_a_second(state, *engine);
    state.SetLabel(std::string(named(names_of_section_structures(), structure).title));
}
BENCHMARK(sections_32)->DenseRange(0, 4)->Unit(benchmark::kMillisecond);

void direct_fir(benchmark::State& state) {
    DirectFir engine(random_numbers(static_cast<std::size_t>(state.range(0)), 2));
    run_a_second(state, engine);
}
BENCHMARK(direct_fir)
    ->RangeMultiplier(2)
    ->Range(64, 2048)
    ->Arg(6000)
    ->Unit(benchmark::kMillisecond);

void fir_by_parts(benchmark::State& state) {
    PartitionedFir engine(random_numbers(static_cast<std::size_t>(state.range(0)), 2));
    run_a_second(state, engine);
}
BENCHMARK(fir_by_parts)
    ->RangeMultiplier(2)
    ->Range(64, 2048)
    ->Arg(6000)
    ->Arg(65536)
    ->Unit(benchmark::kMillisecond);

void fir_by_equal_parts(benchmark::State& state) {
    PartitionedFir engine(random_numbers(static_cast<std::size_t>(state.range(0)), 2),
                          {block, block, 1, true});
    run_a_second(state, engine);
}
BENCHMARK(fir_by_equal_parts)->Arg(1500)->Arg(6000)->Arg(65536)->Unit(benchmark::kMillisecond);

void fir_by_parts_one_block_late(benchmark::State& state) {
    PartitionedFir engine(random_numbers(static_cast<std::size_t>(state.range(0)), 2),
                          {block, 4096, 8, false});
    run_a_second(state, engine);
}
BENCHMARK(fir_by_parts_one_block_late)->Arg(1500)->Arg(65536)->Unit(benchmark::kMillisecond);

// The transforms alone that 65536 taps in blocks of 64, 512 and 4096 take in a second.
void transforms_of_65536_taps(benchmark::State& state) {
    RealFft small(2 * 64), middle(2 * 512), large(2 * 4096);
    for (auto step : state) {
        for (RealFft* fft : {&small, &middle, &large}) {
            for (std::size_t at = 0; at < rate; at += fft->length() / 2) {
                fft->to_spectrum();
                fft->to_signal();
            }
        }
    }
    state.counters["core_percent"] = benchmark::Counter(
        0.01, benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK(transforms_of_65536_taps)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
