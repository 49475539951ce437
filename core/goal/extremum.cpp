// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/extremum.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

// The maximum of a function with one maximum in [low, high].
Extremum golden_section(const Function& f, double low, double high) {
    constexpr double inverse_golden = 1 / std::numbers::phi;
    double a = high - inverse_golden * (high - low), b = low + inverse_golden * (high - low);
    double fa = f(a), fb = f(b);
    // Near a smooth maximum the value is known to the square of what the place is known to, so
    // sqrt(machine epsilon) of the bracket is where more steps stop telling anything.
    const double enough = 3e-8 * high;
    double inner_low = low, inner_high = high;
    for (int step = 0; step < 80 && inner_high - inner_low > enough * 1e-2; ++step) {
        if (fa > fb) {
            inner_high = b;
            b = a, fb = fa;
            a = inner_high - inverse_golden * (inner_high - inner_low);
            fa = f(a);
        } else {
            inner_low = a;
            a = b, fa = fb;
            b = inner_low + inverse_golden * (inner_high - inner_low);
            fb = f(b);
        }
        if (std::abs(fa - fb) < 1e-13 && inner_high - inner_low < 1e-4 * high) {
            break;
        }
    }
    return fa > fb ? Extremum{a, fa} : Extremum{b, fb};
}

} // namespace

Extremum greatest(const Function& f, const std::vector<double>& hz,
                  const std::vector<double>& sampled) {
    Extremum best;
    struct Peak {
        std::size_t at;
        double could_reach;
    };
    std::vector<Peak> peaks;
    const std::size_t last = hz.size() - 1;
    for (std::size_t i = 0; i <= last; ++i) {
        if (sampled[i] > best.value) {
            best = {hz[i], sampled[i]};
        }
        const double before = i > 0 ? sampled[i] - sampled[i - 1] : 0;
        const double after = i < last ? sampled[i] - sampled[i + 1] : 0;
        if (before >= 0 && after >= 0) {
            // A parabola through three points rises above the middle one by at most an eighth of
            // the larger step; twice that step is a safe bound for anything this grid resolves.
            const double step = std::max(before, after);
            peaks.push_back({i, std::isfinite(step) ? sampled[i] + 2 * step + 1e-3 : sampled[i]});
        }
    }
    std::ranges::sort(peaks, std::greater<>(), &Peak::could_reach);
    for (const Peak& peak : peaks) {
        if (!(peak.could_reach > best.value)) {
            break;
        }
        // The sampled point may be a corner of the measured curve: each side has its own maximum.
        for (const bool upper : {false, true}) {
            if (upper ? peak.at == last : peak.at == 0) {
                continue;
            }
            const double low = hz[upper ? peak.at : peak.at - 1];
            const double high = hz[upper ? peak.at + 1 : peak.at];
            const Extremum found = golden_section(f, low, high);
            if (found.value > best.value) {
                best = found;
            }
        }
    }
    return best;
}

} // namespace syntonon
