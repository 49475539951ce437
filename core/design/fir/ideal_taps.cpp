// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/ideal_taps.h"

#include "core/base/units.h"
#include "core/math/fine_spectrum.h"

#include <cmath>

namespace syntonon {

std::vector<double> ideal_taps(std::span<const LinePiece> amplitude, std::size_t length,
                               double delay) {
    std::vector<double> taps;
    taps.reserve(length);
    for (const auto& moment : line_moments(amplitude, -delay, length)) {
        taps.push_back(moment.real() / pi);
    }
    return taps;
}

double gain_about(std::span<const double> taps, double delay, double w) {
    double sum = 0;
    for (std::size_t n = 0; n < taps.size(); ++n) {
        sum += taps[n] * std::cos(w * (static_cast<double>(n) - delay));
    }
    return sum;
}

double crossing_between(const FineSpectrum& spectrum, double from, double to, double gain) {
    const auto above = [&](double w) { return std::abs(spectrum.at(w, 2 * pi).h) > gain; };
    const bool begins = above(from);
    if (begins == above(to)) {
        return (from + to) / 2;
    }
    for (int i = 0; i < 60; ++i) {
        const double middle = (from + to) / 2;
        (above(middle) == begins ? from : to) = middle;
    }
    return (from + to) / 2;
}

} // namespace syntonon
