// Modelled filters: how much of a core many voices take, how near their small signals are to the
// analog model, how near they swing to where they are set, and whether they stay within bounds
// under random modulation of everything.
//   bench_voices [voices | response | tune | bounds [SAMPLES]]
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/modelled_filter.h"
#include "core/engine/filter_engine.h"
#include "core/engine/played_voices.h"
#include "core/engine/voice_bank.h"
#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/filter/modelled/state_variable_filter_kernel.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <ctime>
#include <numbers>
#include <random>

using namespace syntonon;

namespace {

double spent_s() {
    return static_cast<double>(std::clock()) / CLOCKS_PER_SEC;
}

constexpr double rate_hz = 48000;
constexpr std::size_t voices = 64;

LadderModel diode_ladder() {
    LadderModel model;
    model.build.type = modelled::LadderType::diode;
    model.knobs = {1200, 0.9, 6};
    return model;
}

// Sawtooth waves in, a second of them, in blocks of 64 samples.
double share_of_core(BankCode code, bool moved, const FilterModel& model) {
    constexpr std::size_t groups = voices / VoiceBank::voices, block = 64;
    std::vector<std::unique_ptr<VoiceBank>> banks;
    for (std::size_t i = 0; i < groups; ++i) {
        banks.push_back(bank_of(model, rate_hz, code));
    }
    std::vector<double> turn(voices);
    std::vector<VoiceBank::Row> rows(block);
    const double before = spent_s();
    for (std::size_t at = 0; at < std::size_t(rate_hz); at += block) {
        for (std::size_t g = 0; g < groups; ++g) {
            for (auto& row : rows) {
                for (std::size_t j = 0; j < row.size(); ++j) {
                    double& t = turn[g * VoiceBank::voices + j];
                    t += (60 + 13.0 * double(g * VoiceBank::voices + j)) / rate_hz;
                    t -= t >= 1 ? 1 : 0;
                    row[j] = 2 * t - 1;
                }
            }
            if (!moved) {
                banks[g]->process(rows.data(), rows.size());
                continue;
            }
            for (std::size_t n = 0; n < rows.size(); ++n) {
                VoiceBank::Row hz;
                for (std::size_t j = 0; j < hz.size(); ++j) {
                    hz[j] = 1200 + 3.0 * double((at + n) % 300) + double(j);
                }
                banks[g]->set_frequencies(hz);
                banks[g]->process(&rows[n], 1);
            }
        }
    }
    return spent_s() - before;
}

void measure_voices() {
    std::printf("%zu voices of the diode ladder at 48 kHz, 2x oversampled, CPU seconds for one "
                "second:\n",
                voices);
    const std::pair<BankCode, const char*> codes[] = {
        {BankCode::widest, "AVX-512"}, {BankCode::wide, "AVX2"}, {BankCode::plain, "SSE2"}};
    for (const auto& [code, name] : codes) {
        if (!has_banks(code)) {
            std::printf("  no %s here\n", name);
            continue;
        }
        LadderModel linear = diode_ladder();
        linear.build.saturating = false;
        std::printf("  %s: %.3f (moved with every sample %.3f; linear %.3f)\n", name,
                    share_of_core(code, false, diode_ladder()),
                    share_of_core(code, true, diode_ladder()), share_of_core(code, false, linear));
    }
    Playing playing;
    playing.has_notes = true;
    for (std::size_t i = 0; i < voices; ++i) {
        playing.notes.push_back({0, 1, 30 + double(i), 0.5});
    }
    const LadderModel model = diode_ladder();
    const Filter ladder = modelled_filter(model.build, model.knobs, rate_hz);
    for (const double depth : {0.0, 2.0}) {
        playing.modulation.envelope_oct = depth;
        auto engine = std::move(engine_of(as_played(ladder, playing, rate_hz)).value());
        std::vector<double> second(static_cast<std::size_t>(rate_hz));
        const double before = spent_s();
        for (std::size_t at = 0; at < second.size(); at += 256) {
            engine->process(
                std::span(second).subspan(at, std::min<std::size_t>(256, second.size() - at)));
        }
        std::printf("  as the bench plays them, %s: %.3f\n",
                    depth > 0 ? "each with its envelope" : "nothing moving", spent_s() - before);
    }
}

void measure_response() {
    std::printf("small signals of linear ladders against the analog model on the axis that the "
                "trapezoidal rule bends, up to 10 kHz:\n");
    for (const auto type : {modelled::LadderType::transistor, modelled::LadderType::diode}) {
        for (const std::size_t doublings : {0u, 1u, 2u, 3u}) {
            double worst = 0, worst_unbent = 0;
            for (const double set_hz : {100.0, 1000.0, 5000.0, 10'000.0}) {
                const modelled::LadderBuild build{
                    type, modelled::LadderResponse::low_24, false, true, 0, doublings};
                const modelled::LadderKnobs knobs{set_hz, 0.8, 0};
                const Probe probe(modelled_filter(build, knobs, rate_hz), rate_hz);
                const ModelledRoots roots = modelled_roots(build, knobs);
                const auto analog_db = [&](double w) {
                    std::complex<double> h = roots.gain;
                    for (const auto& pole : roots.poles) {
                        h /= std::complex<double>(0, w) - pole;
                    }
                    return 20 * std::log10(std::abs(h));
                };
                const double inner_hz = rate_hz * double(1u << doublings), pi = std::numbers::pi;
                for (double hz = 20; hz <= 10'000; hz *= 1.02) {
                    const double bent =
                        std::tan(pi * hz / inner_hz) / std::tan(pi * set_hz / inner_hz);
                    worst = std::max(worst, std::abs(probe.level_db(hz) - analog_db(bent)));
                    worst_unbent = std::max(worst_unbent,
                                            std::abs(probe.level_db(hz) - analog_db(hz / set_hz)));
                }
            }
            std::printf("  %s %ux: %.2g dB (against the straight axis %.3f dB)\n",
                        type == modelled::LadderType::diode ? "diode" : "transistor",
                        1u << doublings, worst, worst_unbent);
        }
    }
}

// Cents between where a ladder swings and where it is set, from upward crossings of the last half.
double cents_off(modelled::LadderType type, double set_hz, double resonance,
                 std::size_t doublings) {
    modelled::LadderFilter<1> filter;
    modelled::LadderBuild build;
    build.type = type;
    build.doublings = doublings;
    filter.prepare(build, rate_hz);
    filter.set(0, {set_hz, resonance, 0});
    const auto count = static_cast<int>(rate_hz * std::max(0.5, 240 / set_hz));
    double first = 0, last = 0, before = 0;
    int turns = -1;
    for (int n = 0; n < count; ++n) {
        modelled::LadderFilter<1>::Row x{n == 0 ? 0.1 : 0};
        filter.process(&x, 1);
        if (n > count / 2 && before < 0 && x[0] >= 0) {
            last = n - 1 - before / (x[0] - before);
            first = turns < 0 ? last : first;
            ++turns;
        }
        before = x[0];
    }
    return 1200 * std::log2(turns * rate_hz / (last - first) / set_hz);
}

void measure_tune() {
    std::printf("self-oscillation, cents from the set frequency, 20 Hz to 10 kHz, resonance 1.002 "
                "to 2:\n");
    for (const auto type : {modelled::LadderType::transistor, modelled::LadderType::diode}) {
        for (const std::size_t doublings : {1u, 3u}) {
            double worst = 0, at_hz = 0, at_resonance = 0;
            for (const double hz : {20.0, 55.0, 220.0, 880.0, 2500.0, 5000.0, 7500.0, 10'000.0}) {
                for (const double resonance : {1.002, 1.05, 1.2, 1.5, 2.0}) {
                    if (hz < 100 && resonance < 1.05) {
                        continue; // takes minutes to grow
                    }
                    const double off = std::abs(cents_off(type, hz, resonance, doublings));
                    if (off > worst) {
                        worst = off;
                        at_hz = hz;
                        at_resonance = resonance;
                    }
                }
            }
            std::printf("  %s %ux: %.2f at most (%g Hz, resonance %g)\n",
                        type == modelled::LadderType::diode ? "diode" : "transistor",
                        1u << doublings, worst, at_hz, at_resonance);
        }
    }
}

// All knobs anew with every sample, eight voices at a time.
template <class Kernel, class Set>
void measure_bounds(const char* name, const typename Kernel::Build& build, std::size_t samples,
                    Set set) {
    Kernel kernel;
    kernel.prepare(build, rate_hz);
    std::mt19937_64 random(1);
    std::uniform_real_distribution<double> share(0, 1);
    double worst = 0;
    std::size_t odd = 0;
    const double before = spent_s();
    for (std::size_t n = 0; n < samples; n += Kernel::voices) {
        typename Kernel::Row row;
        for (std::size_t j = 0; j < row.size(); ++j) {
            kernel.set(j, set(share, random));
            row[j] = 2 * share(random) - 1;
        }
        kernel.process(&row, 1);
        for (const double x : row) {
            odd += std::isfinite(x) ? 0 : 1;
            worst = std::max(worst, std::abs(x));
        }
    }
    std::printf("  %s: %zu samples, greatest %.3g, %zu not finite (%.0f s)\n", name, samples, worst,
                odd, spent_s() - before);
    std::fflush(stdout);
}

void measure_all_bounds(std::size_t samples) {
    std::printf("random audio-rate modulation of every parameter, full-scale noise in:\n");
    const auto ladder_knobs = [](auto& share, auto& random) {
        return modelled::LadderKnobs{20 * std::pow(1100, share(random)), 2 * share(random),
                                     60 * share(random) - 20};
    };
    for (const auto type : {modelled::LadderType::transistor, modelled::LadderType::diode}) {
        modelled::LadderBuild build;
        build.type = type;
        build.bass_compensation = 1;
        measure_bounds<modelled::LadderFilter<8>>(
            type == modelled::LadderType::diode ? "diode ladder" : "transistor ladder", build,
            samples, ladder_knobs);
    }
    modelled::StateVariableBuild build;
    build.response = modelled::StateVariableResponse::low;
    measure_bounds<modelled::StateVariableFilter<8>>(
        "state-variable low-pass", build, samples, [](auto& share, auto& random) {
            return modelled::StateVariableKnobs{20 * std::pow(1100, share(random)),
                                                0.999 * share(random), 0, 0};
        });
}

} // namespace

int main(int count, char** words) {
    const char* what = count > 1 ? words[1] : "";
    const auto is = [&](const char* name) { return *what == 0 || std::strcmp(what, name) == 0; };
    if (is("voices")) {
        measure_voices();
    }
    if (is("response")) {
        measure_response();
    }
    if (is("tune")) {
        measure_tune();
    }
    if (is("bounds")) {
        measure_all_bounds(count > 2 ? std::strtoull(words[2], nullptr, 10) : 2'000'000);
    }
}
