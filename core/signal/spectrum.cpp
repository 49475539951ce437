// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/spectrum.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numeric>

namespace syntonon {
namespace {

using Bins = std::vector<std::complex<double>>;

std::size_t averages_of(std::size_t samples, const SpectrumSettings& settings) {
    const std::size_t hop = std::max<std::size_t>(settings.length / 2, 1);
    const std::size_t fit = samples <= settings.length ? 1 : 1 + (samples - settings.length) / hop;
    return settings.most_averages > 0 ? std::min(fit, settings.most_averages) : fit;
}

// The transforms of the stretches of one signal, one after another.
class Stretches {
public:
    Stretches(std::span<const double> signal, const SpectrumSettings& settings,
              const std::vector<double>& window)
        : signal_(signal), window_(window), fft_(settings.length) {}

    const Bins& at(std::size_t from) {
        const auto into = fft_.signal();
        const std::size_t there =
            from < signal_.size() ? std::min(into.size(), signal_.size() - from) : 0;
        for (std::size_t n = 0; n < there; ++n) {
            into[n] = signal_[from + n] * window_[n];
        }
        std::fill(into.begin() + static_cast<std::ptrdiff_t>(there), into.end(), 0.0);
        fft_.to_spectrum();
        bins_.assign(fft_.spectrum().begin(), fft_.spectrum().end());
        return bins_;
    }

private:
    std::span<const double> signal_;
    const std::vector<double>& window_;
    RealFft fft_;
    Bins bins_;
};

// A window stands over what is there; what is padded is silent.
std::vector<double> window_over(const SpectrumSettings& settings, std::size_t samples) {
    return window_values(settings.window, std::min(settings.length, samples));
}

Spectrum empty_spectrum(SpectrumScale scale, double sample_rate_hz, std::size_t length,
                        std::size_t averages) {
    Spectrum made;
    made.scale = scale;
    made.step_hz = sample_rate_hz / static_cast<double>(length);
    made.length = length;
    made.averages = averages;
    made.db.resize(length / 2 + 1);
    return made;
}

// 10 lg of the mean |X|^2 times a factor; the bins at the ends have no counterpart below 0 Hz.
Spectrum power_spectrum(SpectrumScale scale, std::span<const double> signal, double sample_rate_hz,
                        const SpectrumSettings& settings, double factor,
                        const std::vector<double>& window) {
    const std::size_t averages = averages_of(signal.size(), settings);
    Spectrum made = empty_spectrum(scale, sample_rate_hz, settings.length, averages);
    Stretches stretches(signal, settings, window);
    std::vector<double> power(made.db.size());
    for (std::size_t i = 0; i < averages; ++i) {
        const Bins& bins = stretches.at(i * (settings.length / 2));
        for (std::size_t k = 0; k < bins.size(); ++k) {
            power[k] += std::norm(bins[k]);
        }
    }
    const bool even = settings.length % 2 == 0;
    for (std::size_t k = 0; k < power.size(); ++k) {
        const bool stands_alone = k == 0 || (even && k + 1 == power.size());
        made.db[k] = db_from_power(power[k] / static_cast<double>(averages) * factor
                                   * (stands_alone ? 0.5 : 1));
    }
    return made;
}

std::vector<double> differences(std::span<const double> signal) {
    std::vector<double> out(signal.size());
    std::adjacent_difference(signal.begin(), signal.end(), out.begin());
    return out;
}

// Where nothing came in there is nothing to divide by.
constexpr double least_input = 1e-10; // of the greatest |X|^2

Spectrum ratio_from(const std::vector<double>& power,
                    const std::vector<std::complex<double>>& common, Spectrum made) {
    const double least = least_input * *std::ranges::max_element(power);
    for (std::size_t k = 0; k < power.size(); ++k) {
        made.db[k] =
            power[k] > least ? db_from_ratio(std::abs(common[k]) / power[k]) : std::nan("");
    }
    return made;
}

} // namespace

Spectrum level_spectrum(std::span<const double> signal, double sample_rate_hz,
                        const SpectrumSettings& settings) {
    if (signal.empty()) {
        return {};
    }
    const std::vector<double> window = window_over(settings, signal.size());
    const double sum = std::accumulate(window.begin(), window.end(), 0.0);
    // A sine of peak 1 has |X| = sum / 2.
    return power_spectrum(SpectrumScale::tone_level, signal, sample_rate_hz, settings,
                          4 / (sum * sum), window);
}

Spectrum density_spectrum(std::span<const double> signal, double sample_rate_hz,
                          const SpectrumSettings& settings) {
    if (signal.empty()) {
        return {};
    }
    const std::vector<double> window = window_over(settings, signal.size());
    const double squares = std::inner_product(window.begin(), window.end(), window.begin(), 0.0);
    constexpr double power_of_full_scale = 0.5;
    return power_spectrum(SpectrumScale::density, signal, sample_rate_hz, settings,
                          2 / (sample_rate_hz * squares * power_of_full_scale), window);
}

Spectrum ratio_spectrum(std::span<const double> in, std::span<const double> out,
                        double sample_rate_hz, const SpectrumSettings& settings) {
    if (in.empty()) {
        return {};
    }
    const std::vector<double> window = window_over(settings, std::max(in.size(), out.size()));
    const std::size_t averages = averages_of(in.size(), settings);
    Stretches from(in, settings, window), to(out, settings, window);
    std::vector<double> power(settings.length / 2 + 1);
    Bins common(power.size());
    for (std::size_t i = 0; i < averages; ++i) {
        const std::size_t at = i * (settings.length / 2);
        const Bins &x = from.at(at), &y = to.at(at);
        for (std::size_t k = 0; k < x.size(); ++k) {
            power[k] += std::norm(x[k]);
            common[k] += std::conj(x[k]) * y[k];
        }
    }
    return ratio_from(
        power, common,
        empty_spectrum(SpectrumScale::ratio, sample_rate_hz, settings.length, averages));
}

Spectrum transient_ratio(std::span<const double> in, std::span<const double> out,
                         double sample_rate_hz) {
    if (in.empty()) {
        return {};
    }
    SpectrumSettings settings;
    settings.window = {WindowShape::rectangular, 0, {}};
    constexpr std::size_t least_length = 1 << 16; // fine enough to draw the low end
    settings.length = quick_fft_length(std::max({in.size(), out.size(), least_length}));
    settings.most_averages = 1;
    if (in.back() == 0) {
        return ratio_spectrum(in, out, sample_rate_hz, settings);
    }
    return ratio_spectrum(differences(in), differences(out), sample_rate_hz, settings);
}

std::size_t usual_spectrum_length(std::size_t samples) {
    constexpr std::size_t least = 512, most = 65536, wanted_averages = 12;
    std::size_t length = least;
    while (length < most && 2 * length * (wanted_averages + 1) / 2 <= samples) {
        length *= 2;
    }
    return length;
}

std::optional<double> value_at(const Spectrum& spectrum, double hz) {
    const double place = hz / spectrum.step_hz;
    if (spectrum.db.empty() || !(place >= 0)
        || place > static_cast<double>(spectrum.db.size() - 1)) {
        return {};
    }
    const auto bin = std::min(static_cast<std::size_t>(place), spectrum.db.size() - 1);
    const std::size_t next = std::min(bin + 1, spectrum.db.size() - 1);
    const double t = place - static_cast<double>(bin);
    const double value =
        t == 0 ? spectrum.db[bin] : spectrum.db[bin] + t * (spectrum.db[next] - spectrum.db[bin]);
    return std::isfinite(value) ? std::optional(value) : std::nullopt;
}

} // namespace syntonon
