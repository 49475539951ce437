// The frequencies at which responses are evaluated, with their angles computed once.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/axis.h"

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// One frequency, and what a response needs of its angle w = 2 pi f / fs. sin^2(w/2) rather than
// cos(w) is kept because 1 - cos(w) loses its digits at low frequencies, as cos^2(w/2) keeps those
// of 1 + cos(w) towards half the sample rate, where the sine is exactly 0.
//
// On an analog axis only hz and the rate count: a point of the imaginary axis.
struct CirclePoint {
    double hz = 0;
    Axis axis = {};
    double half_sine_squared = 0, half_cosine_squared = 1, sine = 0, cosine = 1;

    // 0 Hz or half the sample rate
    bool is_end() const { return axis.is_analog() ? hz == 0 : sine == 0; }
};
CirclePoint circle_point(double hz, const Axis& axis);

// `count` >= 2 frequencies, both ends included; in equal ratios, which needs low_hz > 0, or in
// equal steps. The numbers of a grid, also where nobody wants to hold them all.
struct EvenSpacing {
    bool is_logarithmic = true;
    double low_hz = 0, high_hz = 0;
    std::size_t count = 0;

    bool is_possible() const; // ends in order, two points at least
    double at(std::size_t i) const;
};

// Ascending frequencies from 0 to the axis' end, as CirclePoints.
class FrequencyGrid {
public:
    FrequencyGrid() = default;

    // Sorts, removes repetitions. Refuses frequencies that are negative, not finite or beyond the
    // axis' end, naming the first.
    static Expected<FrequencyGrid> from_frequencies(std::vector<double> frequency_hz,
                                                    const Axis& axis);
    // Refuses a spacing that is not possible, too.
    static Expected<FrequencyGrid> evenly(const EvenSpacing& spacing, const Axis& axis);
    static Expected<FrequencyGrid> logarithmic(double low_hz, double high_hz, std::size_t count,
                                               const Axis& axis);
    static Expected<FrequencyGrid> linear(double low_hz, double high_hz, std::size_t count,
                                          const Axis& axis);

    std::size_t size() const { return frequency_hz_.size(); }
    const Axis& axis() const { return axis_; }
    double sample_rate_hz() const { return axis_.sample_rate_hz; }
    std::span<const double> frequency_hz() const { return frequency_hz_; }
    std::span<const double> half_sine_squared() const { return half_sine_squared_; }
    std::span<const double> half_cosine_squared() const { return half_cosine_squared_; }
    std::span<const double> sine() const { return sine_; }
    std::span<const double> cosine() const { return cosine_; }
    CirclePoint point(std::size_t i) const;
    // The first point above a quarter of the sample rate, or size().
    std::size_t upper_half() const;

private:
    FrequencyGrid(std::vector<double> frequency_hz, const Axis& axis);

    Axis axis_;
    std::vector<double> frequency_hz_, half_sine_squared_, half_cosine_squared_, sine_, cosine_;
};

} // namespace syntonon
