// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/noise_places.h"

#include "core/filter/roots.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

constexpr double pi = std::numbers::pi;

// A bell (angle - middle)^2 + width^2 in steps of equal share: of the sinh of equal steps.
void add_around(double middle, double width, std::vector<double>& angles) {
    const double reach = std::asinh(pi / width), step = 0.08;
    for (double t = -reach; t <= reach; t += step) {
        angles.push_back(middle + width * std::sinh(t));
    }
    angles.push_back(middle);
}

} // namespace

SpectrumPlaces spectrum_places(const Cascade& cascade, std::size_t even) {
    std::vector<double> angles{0, pi};
    for (std::size_t i = 1; i < even; ++i) {
        angles.push_back(pi * static_cast<double>(i) / static_cast<double>(even));
    }
    for (double angle = 1e-6; angle < pi; angle *= 1.02) {
        angles.push_back(angle);
    }
    for (const std::complex<double> pole : roots_of(cascade.sections).poles) {
        if (pole.imag() >= 0) {
            add_around(std::arg(pole), std::max(std::abs(1 - std::abs(pole)), 1e-12), angles);
        }
    }
    std::erase_if(angles, [](double angle) { return angle < 0 || angle > pi; });
    std::ranges::sort(angles);
    angles.erase(std::unique(angles.begin(), angles.end()), angles.end());
    SpectrumPlaces places;
    for (std::size_t i = 0; i < angles.size(); ++i) {
        const double before = i == 0 ? 0 : angles[i] - angles[i - 1];
        const double after = i + 1 == angles.size() ? 0 : angles[i + 1] - angles[i];
        places.weight.push_back((before + after) / 2 / pi);
        places.z.push_back(std::polar(1.0, angles[i]));
    }
    places.rad_per_sample = std::move(angles);
    return places;
}

} // namespace syntonon
