// Speed of the core: responses, verdicts, studies, imports.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/curve/import_text.h"
#include "core/filter/form.h"
#include "core/filter/plane_relief.h"
#include "core/filter/taps.h"
#include "core/math/fft.h"
#include "core/math/polynomial_zeros.h"
#include "core/study/analysis.h"
#include "core/study/kinds.h"
#include "core/study/study_json.h"
#include "demo/brightwater.h"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <complex>
#include <filesystem>
#include <fmt/format.h>
#include <random>
#include <unistd.h>

namespace syntonon {
namespace {

constexpr std::size_t sections = 32, points = 2048;

Channel channel_of_peaks(std::size_t count) {
    Channel channel;
    channel.id = "bench";
    channel.goal = "dome";
    channel.measured = {{"zenith-a"}};
    std::mt19937 random(1);
    std::uniform_real_distribution<double> octave(0, 9), gain(-3, 3);
    for (std::size_t i = 0; i < count; ++i) {
        ParametricSpec spec;
        spec.frequency_hz = 30 * std::exp2(octave(random));
        spec.gain_db = gain(random);
        spec.width = {WidthKind::q, 2};
        Stage stage;
        stage.id = fmt::format("s{}", i + 1);
        stage.spec = spec;
        channel.stages.push_back(stage);
    }
    return channel;
}

Cascade cascade_of_peaks() {
    Cascade cascade;
    const Channel channel = channel_of_peaks(sections);
    for (const auto& stage : channel.stages) {
        cascade.sections.push_back(
            design(stage->spec, brief_at(48000), {})->filter.sections()->sections[0]);
    }
    return cascade;
}

FrequencyGrid bench_grid() {
    return FrequencyGrid::logarithmic(20, 20000, points, 48000).value();
}

void per_section_and_point(benchmark::State& state) {
    state.counters["per_section_point"] = benchmark::Counter(
        static_cast<double>(sections * points),
        benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}

void response_of_32_sections(benchmark::State& state) {
    const Cascade cascade = cascade_of_peaks();
    const FrequencyGrid grid = bench_grid();
    std::vector<double> re(points), im(points);
    for (auto _ : state) {
        complex_response(cascade, grid, re, im);
        benchmark::DoNotOptimize(re.data());
        benchmark::ClobberMemory();
    }
    per_section_and_point(state);
}
BENCHMARK(response_of_32_sections);

// The same as one would write it down: the yardstick.
void response_by_plain_complex_loop(benchmark::State& state) {
    const Cascade cascade = cascade_of_peaks();
    const FrequencyGrid grid = bench_grid();
    std::vector<std::complex<double>> z(points), h(points);
    for (std::size_t i = 0; i < points; ++i) {
        z[i] = std::polar(1.0, -rad_per_sample_from_hz(grid.frequency_hz()[i], 48000));
    }
    for (auto _ : state) {
        for (std::size_t i = 0; i < points; ++i) {
            std::complex<double> product = 1;
            for (const Biquad& s : cascade.sections) {
                product *=
                    (s.b0 + z[i] * (s.b1 + z[i] * s.b2)) / (1.0 + z[i] * (s.a1 + z[i] * s.a2));
            }
            h[i] = product;
        }
        benchmark::DoNotOptimize(h.data());
        benchmark::ClobberMemory();
    }
    per_section_and_point(state);
}
BENCHMARK(response_by_plain_complex_loop);

void one_stage_of_24_changed(benchmark::State& state) {
    Study study = brightwater_study();
    study.channels[0] = channel_of_peaks(24);
    AnalysisCache cache;
    double gain = 0;
    for (auto _ : state) {
        gain = gain > 3 ? -3 : gain + 0.01;
        std::get<ParametricSpec>(study.channels[0].edit().stages[11].edit().spec.edit()).gain_db =
            gain;
        benchmark::DoNotOptimize(cache.analyse(study, *study.channels[0]));
    }
}
BENCHMARK(one_stage_of_24_changed)->Unit(benchmark::kMicrosecond);

// A field of a classical filter of order 20 changes: designed anew, analysed, judged.
void classical_of_order_20(benchmark::State& state, ClassicalFamily family, ClassicalBand band,
                           Domain domain) {
    Study study = brightwater_study();
    Channel& channel = study.channels[0].edit();
    channel = Channel();
    channel.id = "classical";
    channel.domain = domain;
    ClassicalSpec spec;
    spec.family = family;
    spec.band = band;
    spec.order = 20;
    Stage stage;
    stage.id = "s1";
    stage.spec = spec;
    channel.stages.emplace_back(std::move(stage));
    AnalysisCache cache;
    double hz = 1000;
    for (auto _ : state) {
        hz = hz > 1200 ? 1000 : hz * 1.0001;
        std::get<ClassicalSpec>(study.channels[0].edit().stages[0].edit().spec.edit()).edges_hz = {
            hz, 2 * hz};
        benchmark::DoNotOptimize(cache.analyse(study, *study.channels[0]));
    }
}
BENCHMARK_CAPTURE(classical_of_order_20, butterworth, ClassicalFamily::butterworth,
                  ClassicalBand::low_pass, Domain::sampled)
    ->Unit(benchmark::kMicrosecond);
BENCHMARK_CAPTURE(classical_of_order_20, elliptic, ClassicalFamily::elliptic,
                  ClassicalBand::low_pass, Domain::sampled)
    ->Unit(benchmark::kMicrosecond);
BENCHMARK_CAPTURE(classical_of_order_20, bessel, ClassicalFamily::bessel, ClassicalBand::low_pass,
                  Domain::sampled)
    ->Unit(benchmark::kMicrosecond);
BENCHMARK_CAPTURE(classical_of_order_20, elliptic_band, ClassicalFamily::elliptic,
                  ClassicalBand::band_pass, Domain::sampled)
    ->Unit(benchmark::kMicrosecond);
BENCHMARK_CAPTURE(classical_of_order_20, elliptic_analog, ClassicalFamily::elliptic,
                  ClassicalBand::low_pass, Domain::analog)
    ->Unit(benchmark::kMicrosecond);

void verdict_of_32_sections(benchmark::State& state) {
    Study study = brightwater_study();
    study.channels[0] = channel_of_peaks(sections);
    AnalysisCache cache;
    const auto analysis = cache.analyse(study, *study.channels[0]);
    const CurveReader measured(*study.curves[0]);
    const Prediction prediction(analysis->chain, &measured, 48000);
    for (auto _ : state) {
        benchmark::DoNotOptimize(judge(&*study.goals[0], prediction));
    }
}
BENCHMARK(verdict_of_32_sections)->Unit(benchmark::kMicrosecond);

// Every kind of requirement, and two more of those that search a range.
std::vector<Requirement> twenty_requirements() {
    const Duration ms{20, TimeUnit::ms};
    return {{RippleRequirement{40, 16000, 12}},
            {AttenuationRequirement{18000, 20000, 1}},
            {LevelRequirement{1000, -6, 6}},
            {CrossingRequirement{-1, 20, 20000}},
            {TransitionWidthRequirement{20, 19000, 1, -1, 1000}},
            {GroupDelayRequirement{40, 16000, Duration{0, TimeUnit::ms}, ms}},
            {DelayVariationRequirement{40, 16000, ms}},
            {PhaseRequirement{40, 16000, 0, 180}},
            {PeakGainRequirement{12}},
            {LatencyRequirement{ms}},
            {PreRingingRequirement{-40}},
            {PreRingingTimeRequirement{-60, ms}},
            {SettlingTimeRequirement{1, ms}},
            {OvershootRequirement{100}},
            {DecayTimeRequirement{60, ms}},
            {StabilityRequirement{1e-4}},
            {SectionsRequirement{32}},
            {TapsRequirement{0}},
            {RippleRequirement{100, 1000, 6}},
            {GroupDelayRequirement{1000, 10000, Duration{0, TimeUnit::ms}, ms}}};
}

void verdict_of_32_sections_with_20_requirements(benchmark::State& state) {
    Study study = brightwater_study();
    study.channels[0] = channel_of_peaks(sections);
    study.goals[0].edit().requirements = twenty_requirements();
    AnalysisCache cache;
    const auto analysis = cache.analyse(study, *study.channels[0]);
    const CurveReader measured(*study.curves[0]);
    for (auto _ : state) {
        // Anew each time, as at each step of a drag: the prediction keeps the impulse response.
        const Prediction prediction(analysis->chain, &measured, 48000);
        benchmark::DoNotOptimize(judge(*analysis->goal, prediction));
    }
    state.counters["findings"] = static_cast<double>(analysis->verdict.size());
}
BENCHMARK(verdict_of_32_sections_with_20_requirements)->Unit(benchmark::kMicrosecond);

Study large_study() {
    Study study = brightwater_study();
    study.channels.clear();
    for (int i = 0; i < 64; ++i) {
        Channel channel = channel_of_peaks(32);
        channel.id = channel.name = fmt::format("channel-{}", i);
        study.channels.emplace_back(std::move(channel));
    }
    return study;
}

std::filesystem::path large_study_file() {
    return std::filesystem::temp_directory_path()
           / fmt::format("syntonon-bench-{}.syntonon", ::getpid());
}

void save_64_channels_of_32_stages(benchmark::State& state) {
    const Study study = large_study();
    for (auto _ : state) {
        if (!save_study(study, large_study_file())) {
            state.SkipWithError("cannot save");
        }
    }
}
BENCHMARK(save_64_channels_of_32_stages)->Unit(benchmark::kMillisecond);

// Reading the file and analysing the channel that is shown first.
void open_64_channels_of_32_stages(benchmark::State& state) {
    if (!save_study(large_study(), large_study_file())) {
        state.SkipWithError("cannot save");
    }
    for (auto _ : state) {
        const auto read = load_study(large_study_file());
        AnalysisCache cache;
        benchmark::DoNotOptimize(cache.analyse(read->study, *read->study.channels[0]));
    }
    std::filesystem::remove(large_study_file());
}
BENCHMARK(open_64_channels_of_32_stages)->Unit(benchmark::kMillisecond);

constexpr std::size_t many_taps = 131072;

Filter long_fir() {
    std::vector<double> taps(many_taps);
    double value = 0.5;
    for (double& tap : taps) {
        value = 3.9 * value * (1 - value); // as good as noise
        tap = value - 0.5;
    }
    return Filter(Taps(std::move(taps)));
}

void response_of_131072_taps(benchmark::State& state) {
    const auto grid = *FrequencyGrid::logarithmic(10, 24000, 2048, 48000);
    for (auto _ : state) {
        state.PauseTiming();
        const Filter fir = long_fir(); // a new one: the first question works its spectrum out
        state.ResumeTiming();
        benchmark::DoNotOptimize(fir.response(grid));
    }
}
BENCHMARK(response_of_131072_taps)->Unit(benchmark::kMillisecond);

// H and dH/dw alone: nothing has to be followed from 0 Hz on.
void values_of_131072_taps(benchmark::State& state) {
    const auto grid = *FrequencyGrid::logarithmic(10, 24000, 2048, 48000);
    for (auto _ : state) {
        state.PauseTiming();
        const Filter fir = long_fir();
        state.ResumeTiming();
        benchmark::DoNotOptimize(fir.values(grid));
    }
}
BENCHMARK(values_of_131072_taps)->Unit(benchmark::kMillisecond);

// What it is measured against.
void one_real_fft_of_131072(benchmark::State& state) {
    RealFft fft(many_taps);
    for (auto _ : state) {
        std::ranges::fill(fft.signal(), 0.25);
        fft.to_spectrum();
        benchmark::DoNotOptimize(fft.spectrum().data());
    }
}
BENCHMARK(one_real_fft_of_131072)->Unit(benchmark::kMillisecond);

// As the response is worked out: memory and plan included.
void one_real_fft_of_131072_from_nothing(benchmark::State& state) {
    const std::vector<double> signal(many_taps, 0.25);
    for (auto _ : state) {
        RealFft fft(many_taps);
        std::ranges::copy(signal, fft.signal().begin());
        fft.to_spectrum();
        benchmark::DoNotOptimize(fft.spectrum().data());
    }
}
BENCHMARK(one_real_fft_of_131072_from_nothing)->Unit(benchmark::kMillisecond);

void reading_goals(benchmark::State& state) {
    Study study = brightwater_study();
    study.goals.clear();
    for (int i = 0; i < state.range(0); ++i) {
        Goal goal;
        goal.id = fmt::format("g{}", i);
        study.goals.emplace_back(std::move(goal));
    }
    const std::string text = json_from_study(study);
    for (auto _ : state) {
        benchmark::DoNotOptimize(study_from_json(text));
    }
}
BENCHMARK(reading_goals)->Arg(20'000)->Arg(40'000)->Unit(benchmark::kMillisecond);

void import_of_a_million_rows(benchmark::State& state) {
    std::string text = "Hz dB deg\n";
    for (int i = 1; i <= 1'000'000; ++i) {
        fmt::format_to(std::back_inserter(text), "{:.3f} {:.3f} {:.2f}\n", i * 0.02,
                       (i % 977) * 0.013, (i % 360) - 180.0);
    }
    for (auto _ : state) {
        benchmark::DoNotOptimize(import_text(text));
    }
}
BENCHMARK(import_of_a_million_rows)->Unit(benchmark::kMillisecond);

// The networks of tests/core/filter/rational-test.cpp; made anew each time, since a filter keeps
// its roots.
void roots_of_a_phaser_of_order_201(benchmark::State& state) {
    const Filter all_pass(Cascade{{Biquad{0.72, -1.6, 1, -1.6, 0.72}}});
    for (auto _ : state) {
        const Filter loop = closed_loop({repeated(all_pass, 100), 0.62, Filter(Delay{1})}).value();
        benchmark::DoNotOptimize(Filter(ParallelSum{{{0.5, Filter()}, {0.5, loop}}}).roots());
    }
}
BENCHMARK(roots_of_a_phaser_of_order_201)->Unit(benchmark::kMillisecond);

void roots_of_two_rows_of_50_sections(benchmark::State& state) {
    const auto row = [](int first) {
        Cascade all;
        for (int i = 0; i < 50; ++i) {
            const double k = 2 * i + first, r = 0.8 + 0.0015 * k;
            const double a1 = -2 * r * (1 - 0.019 * k), a2 = r * r;
            all.sections.push_back({1, a1 * 0.98, a2 * 0.96, a1, a2});
        }
        return Filter(all);
    };
    const Filter one = row(0), other = row(1);
    for (auto _ : state) {
        benchmark::DoNotOptimize(Filter(ParallelSum{{{1, one}, {-0.75, other}}}).roots());
    }
}
BENCHMARK(roots_of_two_rows_of_50_sections)->Unit(benchmark::kMillisecond);

// Level, phase and delay with their bands, and the stability, after a change of the feedback.
void analysis_of_a_comb(benchmark::State& state) {
    AnalysisCache cache;
    Study study;
    study.sample_rate_hz = 48000;
    double factor = 0.5;
    for (auto _ : state) {
        Stage delay, comb;
        delay.id = "delay";
        delay.spec = DelaySpec{DelayUnit::samples, static_cast<double>(state.range(0))};
        LoopSpec loop;
        loop.feedback = {factor += 1e-5, {SharedValue<Stage>(delay)}};
        comb.id = "comb";
        comb.spec = loop;
        Channel channel;
        channel.id = "comb";
        channel.stages = {SharedValue<Stage>(comb)};
        study.channels = {SharedValue<Channel>(channel)};
        benchmark::DoNotOptimize(cache.analyse(study, *study.channels[0]));
    }
}
BENCHMARK(analysis_of_a_comb)
    ->Arg(480)
    ->Arg(48'000)
    ->Arg(172'800'000)
    ->Unit(benchmark::kMillisecond);

// Conjugate pairs, uniform over the disc.
std::vector<std::complex<double>> random_pairs(std::size_t count) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> unit(0, 1);
    std::vector<std::complex<double>> roots;
    for (std::size_t i = 0; i < count; ++i) {
        roots.push_back(std::polar(std::sqrt(unit(random)), pi * unit(random)));
        roots.push_back(std::conj(roots.back()));
    }
    return roots;
}

// What a recursion of that order costs: the zeros of its coefficients.
void zeros_of_coefficients(benchmark::State& state) {
    const auto c = multiplied_out(1, random_pairs(static_cast<std::size_t>(state.range(0)) / 2));
    for (auto _ : state) {
        benchmark::DoNotOptimize(polynomial_zeros(c));
    }
}
BENCHMARK(zeros_of_coefficients)
    ->Arg(24)
    ->Arg(40)
    ->Arg(100)
    ->Arg(200)
    ->Unit(benchmark::kMillisecond);

// Level and phase of 24 sections on 400x400 points; rows mirrored in the axis or not.
void relief_of_24_sections(benchmark::State& state) {
    const auto all = random_pairs(48);
    const Roots roots{{all.begin(), all.begin() + 48}, {all.begin() + 48, all.end()}, 1, 0};
    const PlaneGrid grid{-1.2, state.range(1) != 0 ? 1.2 : 1.2013, 0.006, 400, 400};
    for (auto _ : state) {
        benchmark::DoNotOptimize(state.range(0) != 0 ? phase_rad_over(roots, grid)
                                                     : level_db_over(roots, grid));
    }
}
BENCHMARK(relief_of_24_sections)
    ->ArgsProduct({{0, 1}, {0, 1}})
    ->ArgNames({"phase", "mirrored"})
    ->Unit(benchmark::kMillisecond);

} // namespace
} // namespace syntonon

BENCHMARK_MAIN();
