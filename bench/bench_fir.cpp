// What designing FIRs costs, and how near to the optimum random ones come.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/fir.h"
#include "core/design/fir/equal_steps.h"
#include "core/design/fir/exchange.h"
#include "core/design/fir/least_squares.h"
#include "core/design/fir/phase_form.h"
#include "core/design/fir/trade.h"
#include "core/filter/form.h"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <cmath>
#include <random>

namespace syntonon {
namespace {

// A low-pass whose transition is as narrow as that many taps can make 60 dB down.
Amplitude low_pass(std::size_t length) {
    const double pass = 0.2 * pi, stop = pass + 2 * pi * 3.5 / static_cast<double>(length);
    return {{{0, pass, 1, 1}, 1}, {{stop, pi, 0, 0}, 10}};
}

void equiripple_low_pass(benchmark::State& state) {
    const auto length = static_cast<std::size_t>(state.range(0));
    const Amplitude wanted = low_pass(length);
    for (auto _ : state) {
        const auto made = equiripple({length, false}, wanted, Watch());
        if (!made) {
            state.SkipWithError(made.error().reason.c_str());
            return;
        }
        benchmark::DoNotOptimize(made);
    }
}
BENCHMARK(equiripple_low_pass)->Arg(101)->Arg(1001)->Arg(4001)->Unit(benchmark::kMillisecond);

void least_squares_low_pass(benchmark::State& state) {
    const auto length = static_cast<std::size_t>(state.range(0));
    const Amplitude wanted = low_pass(length);
    const double middle = static_cast<double>(length - 1) / 2;
    for (auto _ : state) {
        benchmark::DoNotOptimize(least_squares(length, wanted, false, middle, Watch()));
    }
}
BENCHMARK(least_squares_low_pass)->Arg(512)->Arg(4096)->Arg(16384)->Unit(benchmark::kMillisecond);

void design_of(benchmark::State& state, const FirSpec& spec) {
    for (auto _ : state) {
        const auto made = design(spec, brief_at(48000), Watch());
        if (!made) {
            state.SkipWithError(to_text(made.error()).c_str());
            return;
        }
        benchmark::DoNotOptimize(made);
    }
}

constexpr int many_taps = 131072;

void windowed_of_131072_taps(benchmark::State& state) {
    FirSpec spec;
    spec.length = many_taps;
    design_of(state, spec);
}
BENCHMARK(windowed_of_131072_taps)->Unit(benchmark::kMillisecond);

void sampled_of_131072_taps(benchmark::State& state) {
    FirSpec spec;
    spec.method = SampledFir();
    spec.length = many_taps;
    spec.wish.bands[1].to_hz = 23999; // an even length is 0 at half the rate
    spec.wish.bands[1].gain = 0;
    design_of(state, spec);
}
BENCHMARK(sampled_of_131072_taps)->Unit(benchmark::kMillisecond);

// As while one of its samples is dragged: two beside the grid, those between the bands left to the
// program.
void sampled_in_the_hand(benchmark::State& state) {
    FirSpec spec;
    spec.length = static_cast<int>(state.range(0));
    SampledFir method;
    method.between = SampledFir::Between::best;
    const FirTask task{static_cast<std::size_t>(spec.length), spec.wish, brief_at(48000), Watch()};
    method.samples = samples_at_equal_steps(method, task).value();
    method.samples[2].frequency_hz *= 1.1;
    method.samples[5].frequency_hz *= 1.02;
    spec.method = method;
    design_of(state, spec);
}
BENCHMARK(sampled_in_the_hand)->Arg(101)->Arg(255)->Unit(benchmark::kMillisecond);

// All points of a curve in one thread: of 101 taps, equiripple and least squares.
void trade_curve(benchmark::State& state) {
    FirSpec spec;
    spec.method = state.range(1) == 0 ? FirMethod(EquirippleFir()) : FirMethod(LeastSquaresFir());
    for (auto _ : state) {
        const auto trade =
            FirTrade::about(spec, brief_at(48000), static_cast<TradeOf>(state.range(0)), Watch());
        for (std::size_t i = 0; trade && i < trade->size(); ++i) {
            benchmark::DoNotOptimize(trade->point(i, Watch()));
        }
    }
}
BENCHMARK(trade_curve)
    ->ArgsProduct({{static_cast<int>(TradeOf::attenuation), static_cast<int>(TradeOf::transition)},
                   {0, 1}})
    ->Unit(benchmark::kMillisecond);

void minimum_phase_of_131072_taps(benchmark::State& state) {
    FirSpec spec;
    spec.length = many_taps;
    std::get<WindowedFir>(spec.method).window = {WindowShape::kaiser, kaiser_beta(100), {}};
    const auto linear = design(spec, brief_at(48000), Watch());
    const auto taps = std::get<Taps>(linear->filter.form()).values();
    for (auto _ : state) {
        const auto made = with_phase(taps, 0, Watch());
        state.counters["error_dB"] = made->error_db;
    }
}
BENCHMARK(minimum_phase_of_131072_taps)->Unit(benchmark::kMillisecond);

struct RandomTask {
    LinearPhaseType type{1, false};
    Amplitude wanted;
};

// Two to four bands of any type of filter, half of them silent, a third of the others sloping;
// weights over three decades; gaps that differ by up to two to one, and as many taps as Kaiser's
// formula asks for 20 to 90 dB in the narrowest.
RandomTask random_task(std::mt19937& random) {
    std::uniform_real_distribution<double> unit(0, 1);
    const auto count = static_cast<std::size_t>(2 + 3 * unit(random) * 0.999);
    std::vector<double> widths;
    double all = 0, narrowest = 10;
    for (std::size_t i = 0; i < 2 * count - 1; ++i) {
        widths.push_back(i % 2 == 0 ? 0.3 + unit(random) : 0.2 + 0.2 * unit(random));
        all += widths.back();
    }
    for (std::size_t i = 1; i < widths.size(); i += 2) {
        narrowest = std::min(narrowest, widths[i] / all * pi);
    }
    const double attenuation_db = 20 + 70 * unit(random);
    const auto length =
        static_cast<std::size_t>((attenuation_db - 7.95) / 14.36 * 2 * pi / narrowest) + 4
        + (unit(random) < 0.5 ? 1 : 0);
    RandomTask task{{length, unit(random) < 0.3}, {}};
    double from = 0;
    for (std::size_t i = 0; i < widths.size(); ++i) {
        const double to = i + 1 == widths.size() ? pi : from + widths[i] / all * pi;
        if (i % 2 == 0) {
            const double gain = unit(random) < 0.5 && i > 0 ? 0 : 0.2 + 2 * unit(random);
            const double end = gain > 0 && unit(random) < 0.3 ? 0.2 + 2 * unit(random) : gain;
            task.wanted.push_back({{from, to, gain, end}, std::pow(10, 3 * unit(random) - 1.5)});
        }
        from = to;
    }
    if (task.type.is_zero_at_0()) {
        task.wanted.front().gain.at_from = 0;
    }
    if (task.type.is_zero_at_pi()) {
        task.wanted.back().gain.at_to = 0;
    }
    return task;
}

// By brute force: far denser than the error's extrema.
double greatest_error(const LinearPhaseType& type, const std::vector<double>& taps,
                      const Amplitude& wanted) {
    double greatest = 0;
    for (const AmplitudePiece& piece : wanted) {
        const LinePiece& line = piece.gain;
        const auto steps =
            static_cast<int>(40 * double(taps.size()) * (line.to - line.from) / pi) + 10;
        for (int k = 0; k <= steps; ++k) {
            const double w = std::lerp(line.from, line.to, double(k) / steps);
            greatest = std::max(greatest,
                                piece.weight * std::abs(line.at(w) - amplitude_at(type, taps, w)));
        }
    }
    return greatest;
}

void equiripple_of_500_random_tasks(benchmark::State& state) {
    constexpr int tasks = 500;
    for (auto _ : state) {
        std::mt19937 random(13);
        int refused = 0, beyond = 0;
        double worst = 0;
        for (int i = 0; i < tasks; ++i) {
            const RandomTask task = random_task(random);
            const auto made = equiripple(task.type, task.wanted, Watch());
            if (!made) {
                ++refused;
                continue;
            }
            const double error = greatest_error(task.type, made->taps, task.wanted);
            const double excess = error / made->least_possible - 1;
            worst = std::max(worst, excess);
            beyond += excess > equiripple_excess ? 1 : 0;
        }
        state.counters["refused"] = refused;
        state.counters["beyond_1e-6"] = beyond;
        state.counters["worst_excess"] = worst;
    }
}
BENCHMARK(equiripple_of_500_random_tasks)->Iterations(1)->Unit(benchmark::kMillisecond);

} // namespace
} // namespace syntonon

BENCHMARK_MAIN();
