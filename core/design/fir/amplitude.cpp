// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/amplitude.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <cmath>

namespace syntonon {

double LinearPhaseType::factor(double w) const {
    switch (number()) {
    case 1:
        return 1;
    case 2:
        return std::cos(w / 2);
    case 3:
        return std::sin(w);
    default:
        return std::sin(w / 2);
    }
}

std::vector<double> taps_of_amplitude(const LinearPhaseType& type, std::span<const double> a) {
    const std::size_t count = type.length();
    RealFft fft(count);
    for (std::size_t k = 0; k < fft.spectrum().size(); ++k) {
        // A whole number of quarter turns and a part: exact where it can be.
        const double turns =
            -static_cast<double>(k * (count - 1)) / (2 * static_cast<double>(count))
            + (type.is_odd() ? 0.25 : 0);
        fft.spectrum()[k] =
            std::polar(1.0, 2 * pi * std::remainder(turns, 1.0)) * a[k] / double(count);
    }
    fft.to_signal();
    std::vector<double> taps(fft.signal().begin(), fft.signal().end());
    for (std::size_t n = 0; n < (count + 1) / 2; ++n) {
        double& other = taps[count - 1 - n];
        taps[n] = type.is_odd() ? (taps[n] - other) / 2 : (taps[n] + other) / 2;
        other = type.is_odd() ? -taps[n] : taps[n];
    }
    return taps;
}

double amplitude_at(const LinearPhaseType& type, std::span<const double> taps, double w) {
    // By turning factors, set right now and then.
    constexpr std::size_t set_right = 64;
    const std::size_t count = taps.size();
    const double middle = (static_cast<double>(count) - 1) / 2;
    const double turn_re = std::cos(w), turn_im = std::sin(w);
    double sum = 0, re = 0, im = 0;
    for (std::size_t n = 0; n < count / 2; ++n) {
        if (n % set_right == 0) {
            const double angle = w * (middle - static_cast<double>(n));
            re = std::cos(angle);
            im = std::sin(angle);
        }
        sum += taps[n] * (type.is_odd() ? im : re);
        const double next = re * turn_re + im * turn_im;
        im = im * turn_re - re * turn_im;
        re = next;
    }
    return 2 * sum + (count % 2 == 1 ? taps[count / 2] : 0);
}

} // namespace syntonon
