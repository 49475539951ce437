// SPDX-License-Identifier: GPL-3.0-or-later
// Signals made of tones.
#include "core/base/units.h"
#include "core/math/fft.h"
#include "core/signal/makers.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

// The phase after n samples, in periods, its whole ones left out before they cost accuracy.
double periods_after(std::size_t n, double hz, double rate_hz) {
    const double periods = static_cast<double>(n) * hz / rate_hz;
    return periods - std::floor(periods);
}

double share(std::size_t i, double count) {
    return count > 1 ? static_cast<double>(i) / (count - 1) : 0;
}

// A wave of one period, from the harmonics below half the rate, read in between by a cubic; its
// error is below 1e-7 for the 1000 harmonics that count.
class WaveTable {
public:
    WaveTable(double hz, double rate_hz) {
        RealFft fft(size);
        std::ranges::fill(fft.spectrum(), 0.0);
        const auto harmonics =
            std::min(static_cast<std::size_t>(std::ceil(rate_hz / 2 / hz)) - 1, size / 2 - 1);
        for (std::size_t k = 1; k <= harmonics; ++k) {
            // sum of sin(k x) / k: falls from pi / 2 to -pi / 2 over a period
            fft.spectrum()[k] = std::complex<double>(0, -1 / (pi * static_cast<double>(k)));
        }
        fft.to_signal();
        values_.assign(fft.signal().begin(), fft.signal().end());
    }
    double at(double periods) const {
        const double place = periods * static_cast<double>(size);
        const auto whole = static_cast<std::size_t>(place);
        const double t = place - static_cast<double>(whole);
        const auto value = [&](std::size_t offset) {
            return values_[(whole + offset + size - 1) % size];
        };
        const double a = value(0), b = value(1), c = value(2), d = value(3);
        return b
               + t
                     * ((c - a / 3 - b / 2 - d / 6)
                        + t * ((a + c) / 2 - b + t * ((b - c) / 2 + (d - a) / 6)));
    }

private:
    static constexpr std::size_t size = 1 << 16;
    std::vector<double> values_;
};

} // namespace

std::vector<double> made(const ToneRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const double peak = ratio_from_db(recipe.peak_db), start = rad_from_deg(recipe.phase_deg);
    for (std::size_t n = 0; n < out.size(); ++n) {
        out[n] = peak
                 * std::sin(2 * pi * periods_after(n, recipe.frequency_hz, extent.sample_rate_hz)
                            + start);
    }
    return out;
}

std::vector<double> made(const SteppedToneRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const double peak = ratio_from_db(recipe.peak_db);
    const double steps = std::min(recipe.steps, static_cast<double>(out.size()));
    double periods = 0;
    for (std::size_t n = 0; n < out.size(); ++n) {
        const auto step = static_cast<std::size_t>(static_cast<double>(n) * steps
                                                   / static_cast<double>(out.size()));
        const double hz =
            recipe.from_hz * std::pow(recipe.to_hz / recipe.from_hz, share(step, steps));
        out[n] = peak * std::sin(2 * pi * periods);
        periods += hz / extent.sample_rate_hz;
        periods -= std::floor(periods);
    }
    return out;
}

std::vector<double> made(const SweptToneRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const double peak = ratio_from_db(recipe.peak_db);
    const double lasts = static_cast<double>(out.size()) / extent.sample_rate_hz;
    const double log_ratio = std::log(recipe.to_hz / recipe.from_hz);
    for (std::size_t n = 0; n < out.size(); ++n) {
        const double t = static_cast<double>(n) / extent.sample_rate_hz;
        const double periods =
            recipe.pace == SweepPace::linear || log_ratio == 0
                ? recipe.from_hz * t + (recipe.to_hz - recipe.from_hz) * t * t / (2 * lasts)
                : recipe.from_hz * lasts / log_ratio * std::expm1(t / lasts * log_ratio);
        out[n] = peak * std::sin(2 * pi * (periods - std::floor(periods)));
    }
    return out;
}

std::vector<double> made(const MultiToneRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const auto count = static_cast<std::size_t>(recipe.count);
    const double whole = static_cast<double>(out.size()) / extent.sample_rate_hz;
    for (std::size_t i = 0; i < count; ++i) {
        const double wanted =
            recipe.from_hz * std::pow(recipe.to_hz / recipe.from_hz, share(i, recipe.count));
        const double hz = std::max(std::round(wanted * whole), 1.0) / whole;
        const double k = static_cast<double>(i);
        const double phase = -pi * k * (k - 1) / recipe.count;
        for (std::size_t n = 0; n < out.size(); ++n) {
            out[n] += std::sin(2 * pi * periods_after(n, hz, extent.sample_rate_hz) + phase);
        }
    }
    scale_to_peak(out, ratio_from_db(recipe.peak_db));
    return out;
}

std::vector<double> made(const SawChordRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    for (const double hz : recipe.frequencies_hz) {
        const WaveTable wave(hz, extent.sample_rate_hz);
        for (std::size_t n = 0; n < out.size(); ++n) {
            out[n] += wave.at(periods_after(n, hz, extent.sample_rate_hz));
        }
    }
    scale_to_peak(out, ratio_from_db(recipe.peak_db));
    return out;
}

std::vector<double> made(const NotesRecipe& recipe, const SignalExtent& extent) {
    constexpr double rises_s = 0.002, falls_s = 0.03;
    const double rate = extent.sample_rate_hz, peak = ratio_from_db(recipe.note_peak_db);
    std::vector<double> out(extent.samples);
    for (const Note& note : recipe.notes) {
        NoteOscillator oscillator;
        const double step = hz_of_key(note.key) / rate;
        const auto from = static_cast<std::size_t>(std::min(note.from_s * rate, 1e15));
        const double end_s = note.to_s + falls_s;
        for (std::size_t n = from; n < out.size(); ++n) {
            const double t = static_cast<double>(n) / rate;
            if (t >= end_s) {
                break;
            }
            const double gate =
                std::clamp(std::min((t - note.from_s) / rises_s, (end_s - t) / falls_s), 0.0, 1.0);
            out[n] += peak * note.velocity * gate * oscillator.next(recipe.wave, step);
        }
    }
    return out;
}

std::vector<double> made(const ToneBurstRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const double peak = ratio_from_db(recipe.peak_db);
    const double every = recipe.every_ms * 1e-3, lasts = recipe.cycles / recipe.frequency_hz;
    for (std::size_t n = 0; n < out.size(); ++n) {
        const double t = std::fmod(static_cast<double>(n) / extent.sample_rate_hz, every);
        if (t < lasts) {
            const double rise = std::sin(pi * t / lasts);
            out[n] = peak * rise * rise * std::sin(2 * pi * recipe.frequency_hz * t);
        }
    }
    return out;
}

} // namespace syntonon
