// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/phase_form.h"

#include "core/base/units.h"
#include "core/design/design.h"
#include "core/design/fir/circle_zeros.h"
#include "core/math/fft.h"
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <complex>
#include <limits>
#include <optional>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double kept_above_db = -100, good_enough_db = 1e-4;
constexpr std::size_t longest_fft = std::size_t(1) << 22;

std::vector<double> magnitude_of(std::span<const double> taps, RealFft& fft) {
    std::ranges::fill(fft.signal(), 0.0);
    std::ranges::copy(taps, fft.signal().begin());
    fft.to_spectrum();
    std::vector<double> magnitude;
    for (const Complex& bin : fft.spectrum()) {
        magnitude.push_back(std::abs(bin));
    }
    return magnitude;
}

double error_db(std::span<const double> is, std::span<const double> wanted) {
    const double floor = std::ranges::max(wanted) * std::pow(10, kept_above_db / 20);
    double greatest = 0;
    for (std::size_t k = 0; k < wanted.size(); ++k) {
        if (wanted[k] >= floor) {
            greatest = std::max(greatest, std::abs(20 * std::log10(is[k] / wanted[k])));
        }
    }
    return greatest;
}

// Zeros on the other side of the circle mirrored at it, and what that takes from the level put into
// the gain. Taps at either end that are 0 stay out of it.
std::optional<std::vector<double>> by_roots(std::span<const double> taps, bool maximum) {
    std::size_t first = 0, last = taps.size();
    while (taps[first] == 0) {
        ++first;
    }
    while (taps[last - 1] == 0) {
        --last;
    }
    auto found = polynomial_zeros(taps.subspan(first, last - first));
    if (!found) {
        return std::nullopt;
    }
    double gain = taps[first];
    for (Complex& zero : found->zeros) {
        const double radius = std::abs(zero);
        if (maximum ? radius < 1 : radius > 1) {
            gain *= radius;
            zero = 1.0 / std::conj(zero);
        }
    }
    // The sign is that of the gain at 0 Hz where there is one, whatever the zeros at it.
    std::vector<double> made = multiplied_out(std::abs(gain), found->zeros);
    double sum_before = 0, sum_now = 0;
    for (const double tap : taps) {
        sum_before += tap;
    }
    for (const double tap : made) {
        sum_now += tap;
    }
    if (sum_before * sum_now < 0) {
        std::ranges::for_each(made, [](double& tap) { tap = -tap; });
    }
    made.resize(taps.size(), 0.0);
    if (maximum) {
        const std::size_t empty = taps.size() - (last - first);
        std::rotate(made.begin(), made.end() - static_cast<std::ptrdiff_t>(empty), made.end());
    }
    return made;
}

} // namespace

std::vector<double> taps_of_magnitude(std::span<const double> magnitude, std::size_t length,
                                      double share, std::span<const double> zeros_w) {
    const std::size_t bins = magnitude.size(), whole = 2 * (bins - 1);
    const auto log = log_without_zeros(magnitude, zeros_w);
    RealFft fft(whole);
    for (std::size_t k = 0; k < bins; ++k) {
        fft.spectrum()[k] = log[k] / static_cast<double>(whole);
    }
    fft.to_signal();
    for (std::size_t n = 1; n < whole / 2; ++n) {
        fft.signal()[n] *= 2 * (1 - share);
        fft.signal()[whole - n] *= 2 * share;
    }
    fft.to_spectrum();
    // On the circle a pair is a delay of one sample and changes the sign, one at 0 Hz is a quarter
    // of a turn and half a sample, one at pi half a sample.
    double order = 0;
    for (const double zero : zeros_w) {
        order += zero > 0 && zero < pi ? 2 : 1;
    }
    const double delay = share * static_cast<double>(length - 1) + (0.5 - share) * order;
    double turned = !zeros_w.empty() && zeros_w.front() == 0 ? 0.25 : 0;
    auto next = zeros_w.begin();
    for (std::size_t k = 0; k < bins; ++k) {
        const double cycles = static_cast<double>(k) / static_cast<double>(whole);
        for (; next != zeros_w.end() && *next < 2 * pi * cycles; ++next) {
            turned += *next > 0 ? 0.5 : 0;
        }
        const double turns = turned - cycles * delay;
        fft.spectrum()[k] =
            std::polar(magnitude[k] / static_cast<double>(whole),
                       fft.spectrum()[k].imag() + 2 * pi * std::remainder(turns, 1.0));
    }
    fft.to_signal();
    std::vector<double> taps(fft.signal().begin(),
                             fft.signal().begin() + static_cast<std::ptrdiff_t>(length));
    if (2 * share == 1) { // linear phase to the bit
        const double sign = !zeros_w.empty() && zeros_w.front() == 0 ? -1 : 1;
        for (std::size_t n = 0; n < (length + 1) / 2; ++n) {
            taps[n] = (taps[n] + sign * taps[length - 1 - n]) / 2;
            taps[length - 1 - n] = sign * taps[n];
        }
    }
    return taps;
}

Expected<PhaseForm> with_phase(std::span<const double> taps, double share, const Watch& watch) {
    if (std::ranges::all_of(taps, [](double tap) { return tap == 0; })) {
        return refuse("", "silence has no phase", "state some gain");
    }
    std::size_t length = quick_fft_length(8 * taps.size());
    if (taps.size() <= most_by_roots && (share == 0 || share == 1)) {
        if (auto made = by_roots(taps, share == 1)) {
            RealFft fft(length);
            const auto wanted = magnitude_of(taps, fft);
            const double error = error_db(magnitude_of(*made, fft), wanted);
            return PhaseForm{std::move(*made), 0, error};
        }
    }
    std::optional<PhaseForm> best;
    for (; !watch.is_stopped(); length *= 4) {
        RealFft fft(length);
        const auto wanted = magnitude_of(taps, fft);
        PhaseForm made{taps_of_magnitude(wanted, taps.size(), share, circle_zeros(taps, length)),
                       length, 0};
        made.error_db = error_db(magnitude_of(made.taps, fft), wanted);
        if (!best || made.error_db < best->error_db) {
            best = std::move(made);
        }
        if (best->error_db <= good_enough_db || 4 * length > longest_fft) {
            return std::move(*best);
        }
    }
    return stopped();
}

PreRinging pre_ringing(std::span<const double> taps, double threshold_db) {
    const auto main = std::ranges::max_element(taps, {}, [](double tap) { return std::abs(tap); });
    double before = 0, all = 0;
    for (auto at = taps.begin(); at != taps.end(); ++at) {
        all += *at * *at;
        before += at < main ? *at * *at : 0;
    }
    const double threshold = std::abs(*main) * std::pow(10, threshold_db / 20);
    const auto first =
        std::ranges::find_if(taps, [threshold](double tap) { return std::abs(tap) >= threshold; });
    return {before > 0 ? 10 * std::log10(before / all) : -std::numeric_limits<double>::infinity(),
            static_cast<double>(main - first)};
}

} // namespace syntonon
