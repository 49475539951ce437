// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/moved_filters.h"

#include "core/engine/voice_bank.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

// Nothing saturates, and nothing is oversampled.
FilterModel plain_linear(const FilterModel& model) {
    FilterModel plain = model;
    std::visit(
        [](auto& made) {
            constexpr double greatest_resonance = 0.995;
            made.build.saturating = false;
            made.build.doublings = 0;
            made.knobs.resonance = std::min(made.knobs.resonance, greatest_resonance);
            made.knobs.drive_db = 0;
        },
        plain);
    return plain;
}

double frequency_of(const FilterModel& model) {
    return std::visit([](const auto& made) { return made.knobs.frequency_hz; }, model);
}

Filter filter_at(FilterModel model, double hz, double rate_hz) {
    return std::visit(
        [&](auto& made) {
            made.knobs.frequency_hz = hz;
            return modelled_filter(made.build, made.knobs, rate_hz);
        },
        model);
}

std::vector<double> run_modelled(const FilterModel& model, const std::vector<double>& hz,
                                 const std::vector<double>& input, double rate_hz) {
    const auto bank = bank_of(model, rate_hz, BankCode::plain);
    std::vector<double> out;
    for (std::size_t n = 0; n < input.size(); ++n) {
        VoiceBank::Row frequencies, row{};
        frequencies.fill(hz[n]);
        row[0] = input[n];
        bank->set_frequencies(frequencies);
        bank->process(&row, 1);
        out.push_back(row[0]);
    }
    return out;
}

// w = x - a1 w' - a2 w'', y = b0 w + b1 w' + b2 w''.
std::vector<double> run_direct(const FilterModel& model, const std::vector<double>& hz,
                               const std::vector<double>& input, double rate_hz) {
    struct Past {
        double first = 0, second = 0;
    };
    std::vector<Past> past;
    std::vector<double> out;
    for (std::size_t n = 0; n < input.size(); ++n) {
        const auto cascade = filter_at(model, hz[n], rate_hz).sections();
        if (!cascade) {
            break;
        }
        past.resize(cascade->sections.size());
        double x = input[n];
        for (std::size_t i = 0; i < past.size(); ++i) {
            const Biquad& c = cascade->sections[i];
            const double w = x - c.a1 * past[i].first - c.a2 * past[i].second;
            x = c.b0 * w + c.b1 * past[i].first + c.b2 * past[i].second;
            past[i] = {w, past[i].first};
        }
        out.push_back(x);
    }
    return out;
}

double energy_of(const std::vector<double>& samples) {
    double sum = 0;
    for (const double x : samples) {
        sum += x * x;
    }
    return sum;
}

MovedRun run_of(std::vector<double> samples, double energy_in) {
    MovedRun run;
    for (std::size_t n = 0; n < samples.size(); ++n) {
        run.peak = std::max(run.peak, std::abs(samples[n]));
        run.jump = n > 0 ? std::max(run.jump, std::abs(samples[n] - samples[n - 1])) : 0;
    }
    run.energy = energy_of(samples) / energy_in;
    run.samples = std::move(samples);
    return run;
}

} // namespace

MovedRuns moved_beside_direct(const FilterModel& model, double oscillator_hz, double depth_oct,
                              ModulationWave wave, double tone_hz, std::size_t count,
                              double sample_rate_hz) {
    const FilterModel plain = plain_linear(model);
    const double set_hz = frequency_of(plain);
    constexpr double lowest_hz = 5, highest_share = 0.28; // of the rate, as ladders hold it
    MovedRuns runs;
    std::vector<double> hz;
    for (std::size_t n = 0; n < count; ++n) {
        const double t = static_cast<double>(n) / sample_rate_hz;
        runs.input.push_back(std::sin(2 * std::numbers::pi * tone_hz * t));
        hz.push_back(std::clamp(set_hz * std::exp2(depth_oct * value_of(wave, oscillator_hz * t)),
                                lowest_hz, highest_share * sample_rate_hz));
    }
    const double energy = energy_of(runs.input);
    const std::vector<double> still(
        count, hz.empty() ? set_hz : std::clamp(set_hz, lowest_hz, highest_share * sample_rate_hz));
    runs.modelled = run_of(run_modelled(plain, hz, runs.input, sample_rate_hz), energy);
    runs.direct = run_of(run_direct(plain, hz, runs.input, sample_rate_hz), energy);
    runs.still = run_of(run_modelled(plain, still, runs.input, sample_rate_hz), energy);
    return runs;
}

} // namespace syntonon
