// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/against_reference.h"

#include "core/base/units.h"
#include "core/math/fft.h"
#include "core/signal/make_signal.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon {
namespace {

// c[m] = sum signal[n + m] reference[n], by transforms; negative m stand at the end.
std::vector<double> correlation_of(std::span<const double> signal,
                                   std::span<const double> reference) {
    const std::size_t length = quick_fft_length(signal.size() + reference.size());
    RealFft a(length), b(length);
    const auto fill = [](RealFft& fft, std::span<const double> with) {
        const auto end = std::ranges::copy(with, fft.signal().begin()).out;
        std::fill(end, fft.signal().end(), 0.0);
        fft.to_spectrum();
    };
    fill(a, signal);
    fill(b, reference);
    for (std::size_t k = 0; k < a.spectrum().size(); ++k) {
        a.spectrum()[k] *= std::conj(b.spectrum()[k]);
    }
    a.to_signal();
    return {a.signal().begin(), a.signal().end()};
}

// Where the parabola through the greatest and its neighbours is greatest.
double between_samples(double before, double at, double after) {
    const double bend = before - 2 * at + after;
    return bend == 0 ? 0 : std::clamp(0.5 * (before - after) / bend, -0.5, 0.5);
}

double delay_of(std::span<const double> signal, std::span<const double> reference) {
    const std::vector<double> correlation = correlation_of(signal, reference);
    const auto reach = static_cast<std::ptrdiff_t>(signal.size() / 2);
    const auto length = static_cast<std::ptrdiff_t>(correlation.size());
    const auto at = [&](std::ptrdiff_t m) {
        return correlation[static_cast<std::size_t>((m + length) % length)];
    };
    std::ptrdiff_t best = 0;
    for (std::ptrdiff_t m = -reach; m <= reach; ++m) {
        // Of equals the one with the least delay.
        const double more = std::abs(at(m)) - std::abs(at(best));
        const double same = 1e-12 * std::abs(at(best));
        if (more > same || (more > -same && std::abs(m) < std::abs(best))) {
            best = m;
        }
    }
    const double sign = at(best) < 0 ? -1 : 1;
    return static_cast<double>(best)
           + between_samples(sign * at(best - 1), sign * at(best), sign * at(best + 1));
}

std::vector<double> moved(std::span<const double> reference, std::ptrdiff_t later,
                          std::size_t count) {
    std::vector<double> out(count);
    for (std::size_t n = 0; n < count; ++n) {
        const std::ptrdiff_t from = static_cast<std::ptrdiff_t>(n) - later;
        if (from >= 0 && from < static_cast<std::ptrdiff_t>(reference.size())) {
            out[n] = reference[static_cast<std::size_t>(from)];
        }
    }
    return out;
}

} // namespace

std::optional<AgainstReference> against_reference(std::span<const double> signal,
                                                  std::span<const double> reference) {
    if (!(power_of(signal) > 0) || !(power_of(reference) > 0)) {
        return {};
    }
    AgainstReference found;
    found.delay_samples = delay_of(signal, reference);
    const std::vector<double> wanted =
        moved(reference, std::lround(found.delay_samples), signal.size());
    const double wanted_power = power_of(wanted);
    if (!(wanted_power > 0)) {
        return {};
    }
    double common = 0, rest = 0, residual = 0;
    for (std::size_t n = 0; n < signal.size(); ++n) {
        common += signal[n] * wanted[n];
    }
    const double count = static_cast<double>(signal.size());
    const double gain = common / (wanted_power * count);
    for (std::size_t n = 0; n < signal.size(); ++n) {
        rest += (signal[n] - gain * wanted[n]) * (signal[n] - gain * wanted[n]);
        residual += (signal[n] - wanted[n]) * (signal[n] - wanted[n]);
    }
    found.gain_db = db_from_ratio(std::abs(gain));
    found.signal_to_noise_db = db_from_power(gain * gain * wanted_power * count / rest);
    found.residual_db = db_from_power(residual / (wanted_power * count));
    return found;
}

std::vector<double> difference_of(std::span<const double> signal, std::span<const double> reference,
                                  double delay_samples) {
    std::vector<double> out = moved(reference, std::lround(delay_samples), signal.size());
    for (std::size_t n = 0; n < out.size(); ++n) {
        out[n] = signal[n] - out[n];
    }
    return out;
}

} // namespace syntonon
