// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/curve_spectrum.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

std::vector<std::complex<double>> spectrum_of(const Curve& curve, std::size_t length,
                                              double sample_rate_hz) {
    std::vector<std::complex<double>> bins(length / 2 + 1);
    const double step_hz = sample_rate_hz / static_cast<double>(length);
    const auto& places = curve.frequency_hz;
    std::size_t above = 0; // the first point above the bin
    for (std::size_t k = 1; k < bins.size(); ++k) {
        const double hz = static_cast<double>(k) * step_hz;
        if (hz < curve.low_hz() / 2 || hz > curve.high_hz()) {
            continue;
        }
        while (above < places.size() && places[above] <= hz) {
            ++above;
        }
        const std::size_t right = std::min(above, places.size() - 1);
        const std::size_t left = above > 0 ? above - 1 : 0;
        const double share =
            left < right ? std::log(hz / places[left]) / std::log(places[right] / places[left]) : 0;
        const double db = std::lerp(curve.magnitude_db[left], curve.magnitude_db[right], share);
        const double deg = std::lerp(curve.phase_deg[left], curve.phase_deg[right], share);
        bins[k] = std::polar(ratio_from_db(db), rad_from_deg(deg));
    }
    return bins;
}

std::vector<double> impulse_of(const std::vector<std::complex<double>>& bins, std::size_t length) {
    RealFft fft(length);
    std::ranges::copy(bins, fft.spectrum().begin());
    fft.to_signal();
    std::vector<double> signal(fft.signal().begin(), fft.signal().end());
    for (double& x : signal) {
        x /= static_cast<double>(length);
    }
    return signal;
}

} // namespace syntonon
