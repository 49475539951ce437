// The lowest and highest of any stretch of a long row of samples, without looking at all of them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

class SampleExtremes {
public:
    // `values` must outlive it.
    explicit SampleExtremes(std::span<const double> values);

    struct Stretch {
        double low, high;   // the values
        double quiet, loud; // of their magnitudes
    };
    // Of the samples from <= i < to, of which there must be one.
    Stretch of(std::size_t from, std::size_t to) const;

    std::size_t loudest() const { return loudest_; } // the first of the greatest magnitude; 0
    double loudest_of_the_rest() const { return rest_; }
    bool are_bounded() const { return bounded_; } // all finite and below 1e12

private:
    static void take(Stretch& all, double value);
    static void take(Stretch& all, const Stretch& other);

    std::span<const double> values_;
    std::vector<Stretch> blocks_;
    std::size_t loudest_ = 0;
    double rest_ = 0;
    bool bounded_ = true;
};

} // namespace syntonon
