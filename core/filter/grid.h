// The frequencies at which responses are evaluated, with their angles computed once.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// Ascending frequencies from 0 to half the sample rate, and what a response needs of each angle
// w = 2 pi f / fs. sin^2(w/2) rather than cos(w) is kept because 1 - cos(w) loses its digits at low
// frequencies.
class FrequencyGrid {
public:
    FrequencyGrid() = default;

    // Sorts, removes repetitions. Refuses frequencies that are negative, not finite or above half
    // the sample rate, naming the first.
    static Expected<FrequencyGrid> from_frequencies(std::vector<double> frequency_hz,
                                                    double sample_rate_hz);
    // `count` >= 2 points, both ends included; equal ratios or equal steps. The logarithmic grid
    // needs low_hz > 0.
    static Expected<FrequencyGrid> logarithmic(double low_hz, double high_hz, std::size_t count,
                                               double sample_rate_hz);
    static Expected<FrequencyGrid> linear(double low_hz, double high_hz, std::size_t count,
                                          double sample_rate_hz);

    std::size_t size() const { return frequency_hz_.size(); }
    double sample_rate_hz() const { return sample_rate_hz_; }
    std::span<const double> frequency_hz() const { return frequency_hz_; }
    std::span<const double> half_sine_squared() const { return half_sine_squared_; }
    std::span<const double> sine() const { return sine_; }
    std::span<const double> cosine() const { return cosine_; }

private:
    FrequencyGrid(std::vector<double> frequency_hz, double sample_rate_hz);

    double sample_rate_hz_ = 0;
    std::vector<double> frequency_hz_, half_sine_squared_, sine_, cosine_;
};

} // namespace syntonon
