// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/decay.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace syntonon {
namespace {

double mean_of(std::span<const double> values) {
    double sum = 0;
    for (const double value : values) {
        sum += value;
    }
    return values.empty() ? 0 : sum / static_cast<double>(values.size());
}

std::vector<double> powers_from_arrival(const ImpulseResponse& impulse) {
    const auto& x = impulse.samples;
    const auto peak = std::ranges::max_element(x, {}, [](double v) { return std::abs(v); });
    std::vector<double> powers;
    for (auto at = peak; at != x.end(); ++at) {
        powers.push_back(*at * *at);
    }
    return powers;
}

struct Line {
    double at_zero = 0, slope = 0; // dB, dB a second
};
// By least squares over y[i] at i * step_s, from <= i < to.
Line fitted(std::span<const double> y, std::size_t from, std::size_t to, double step_s) {
    double n = 0, t = 0, tt = 0, sum = 0, ty = 0;
    for (std::size_t i = from; i < to; ++i) {
        const double at = static_cast<double>(i) * step_s;
        n += 1;
        t += at;
        tt += at * at;
        sum += y[i];
        ty += at * y[i];
    }
    const double spread = n * tt - t * t;
    const double slope = spread > 0 ? (n * ty - t * sum) / spread : 0;
    return {n > 0 ? (sum - slope * t) / n : 0, slope};
}

// Where the decay meets the noise: in samples, and how steep it is before.
struct Knee {
    std::size_t sample = 0;
    double slope = 0;    // dB a second, negative
    double noise = 0;    // power of a sample
    double noise_db = 0; // below the greatest
};

// In means of some milliseconds: a line through what stands well above the noise, and where it
// crosses it, again and again.
Knee knee_of(const std::vector<double>& powers, double rate_hz) {
    constexpr double mean_s = 0.01, above_noise_db = 8;
    constexpr int rounds = 5;
    Knee knee{powers.size(), 0, mean_of(std::span(powers).last(powers.size() / 10)), -infinity};
    const auto step = std::max<std::size_t>(1, static_cast<std::size_t>(mean_s * rate_hz));
    std::vector<double> means_db;
    for (std::size_t n = 0; n + step <= powers.size(); n += step) {
        means_db.push_back(
            db_from_power(std::max(mean_of(std::span(powers).subspan(n, step)), 1e-40)));
    }
    if (means_db.size() < 4 || !(knee.noise > 0)) {
        return knee;
    }
    const double step_s = static_cast<double>(step) / rate_hz;
    const auto top =
        static_cast<std::size_t>(std::ranges::max_element(means_db) - means_db.begin());
    for (int round = 0; round < rounds; ++round) {
        const double noise_db = db_from_power(knee.noise);
        std::size_t end = top;
        while (end < means_db.size() && means_db[end] > noise_db + above_noise_db) {
            ++end;
        }
        if (end < top + 3) {
            return knee; // no decay to be seen, or none of the noise
        }
        const Line line = fitted(means_db, top, end, step_s);
        if (!(line.slope < 0)) {
            return knee;
        }
        const double crossing_s = (noise_db - line.at_zero) / line.slope;
        knee.slope = line.slope;
        knee.noise_db = noise_db - means_db[top];
        knee.sample = static_cast<std::size_t>(
            std::clamp(crossing_s * rate_hz, 1.0, static_cast<double>(powers.size())));
        // Noise from where the decay lies 10 dB below it.
        const auto from =
            static_cast<std::size_t>(static_cast<double>(knee.sample) - 10 / line.slope * rate_hz);
        if (from + step >= powers.size()) {
            return knee;
        }
        knee.noise = mean_of(std::span(powers).subspan(from));
    }
    return knee;
}

} // namespace

DecayCurve decay_of(const ImpulseResponse& impulse) {
    const std::vector<double> powers = powers_from_arrival(impulse);
    DecayCurve curve;
    curve.sample_rate_hz = impulse.sample_rate_hz;
    if (std::ranges::all_of(powers, [](double p) { return p == 0; })) {
        return curve;
    }
    const Knee knee = knee_of(powers, impulse.sample_rate_hz);
    curve.noise_db = knee.noise_db;
    // Behind the knee an even decay: its power there over what it loses each second.
    const double loss = -knee.slope * std::log(10.0) / 10; // a second
    double left = loss > 0 ? knee.noise * impulse.sample_rate_hz / loss : 0;
    std::vector<double> energies(knee.sample);
    for (std::size_t n = knee.sample; n-- > 0;) {
        left += std::max(powers[n] - (loss > 0 ? knee.noise : 0), 0.0);
        energies[n] = left;
    }
    for (const double energy : energies) {
        curve.level_db.push_back(db_from_power(std::max(energy / energies.front(), 1e-40)));
    }
    return curve;
}

std::optional<double> decay_time_s(const DecayCurve& curve, double from_db, double to_db) {
    const auto& level = curve.level_db;
    const auto below = [&](double db) {
        return std::ranges::find_if(level, [=](double value) { return value <= db; })
               - level.begin();
    };
    const auto from = static_cast<std::size_t>(below(from_db)),
               to = static_cast<std::size_t>(below(to_db));
    if (to >= level.size() || to < from + 2) {
        return {};
    }
    const Line line = fitted(level, from, to, 1 / curve.sample_rate_hz);
    return line.slope < 0 ? std::optional(-60 / line.slope) : std::nullopt;
}

ImpulseResponse band_of(const ImpulseResponse& impulse, double centre_hz, double octaves) {
    constexpr int order = 6;
    // Room for what rings on before and behind.
    const auto room = static_cast<std::size_t>(20 / centre_hz * impulse.sample_rate_hz);
    RealFft fft(quick_fft_length(impulse.samples.size() + room));
    std::ranges::fill(std::ranges::copy(impulse.samples, fft.signal().begin()).out,
                      fft.signal().end(), 0.0);
    fft.to_spectrum();
    const double step_hz = impulse.sample_rate_hz / static_cast<double>(fft.length());
    const double quality = 1 / (std::exp2(octaves / 2) - std::exp2(-octaves / 2));
    for (std::size_t k = 0; k < fft.spectrum().size(); ++k) {
        const double hz = static_cast<double>(k) * step_hz;
        const double off = hz > 0 ? quality * (hz / centre_hz - centre_hz / hz) : infinity;
        fft.spectrum()[k] /=
            (1 + std::pow(std::abs(off), order)) * static_cast<double>(fft.length());
    }
    fft.to_signal();
    ImpulseResponse band = impulse;
    std::copy_n(fft.signal().begin(), band.samples.size(), band.samples.begin());
    return band;
}

std::vector<DecayTimes> decay_times(const ImpulseResponse& impulse) {
    std::vector<DecayTimes> times;
    const auto add = [&](double centre_hz, const ImpulseResponse& part) {
        const DecayCurve curve = decay_of(part);
        times.push_back({centre_hz, decay_time_s(curve, 0, -10), decay_time_s(curve, -5, -25),
                         decay_time_s(curve, -5, -35)});
    };
    add(0, impulse);
    for (double centre_hz = 62.5; centre_hz * std::sqrt(2.0) <= impulse.sample_rate_hz / 2;
         centre_hz *= 2) {
        add(centre_hz, band_of(impulse, centre_hz, 1));
    }
    return times;
}

} // namespace syntonon
