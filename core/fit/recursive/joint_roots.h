// Poles and zeros fitted together to a response.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/least_squares.h"
#include "core/fit/recursive/root_factors.h"

#include <cstddef>
#include <vector>

namespace syntonon {

// What is fitted to: parallel, ascending, below half the rate.
struct ResponseAim {
    std::vector<double> hz, level_db, weight; // of an error, at least one above 0
    std::vector<double> phase_rad;            // unwrapped; empty: only the level counts

    std::size_t size() const { return hz.size(); }
};

// The task of making a response of some poles and zeros. An error is the level's in dB; beside it,
// where the phase counts, the chord of the phase's: 6.6 degrees off are as far, on the complex
// plane of logarithms, as 1 dB.
class JointRoots {
public:
    // The aim must outlive it. No pole has a higher Q, by its image, than `most_q`.
    JointRoots(const ResponseAim& aim, double sample_rate_hz, double most_q);

    // The weighted mean of squared errors, in dB^2.
    double cost(const RootFactors& factors) const;
    double worst_db(const RootFactors& factors) const; // the greatest weighted error
    // The gain with which the level's errors are least.
    double best_gain_db(const RootFactors& factors) const;
    std::vector<double> level_db(const RootFactors& factors) const; // at the aim's places
    const ResponseAim& aim() const { return aim_; }
    const FrequencyGrid& grid() const { return grid_; }

    // All free numbers at once (the gain, and of the factors those from `first` on), by nonlinear
    // least squares within bounds: about the aim's range, poles inside of the circle. Errors count
    // to the power of `power` / 2 each, 2 being least squares; with growing powers the greatest
    // error becomes least.
    void refine(RootFactors& factors, const Effort& effort, const Watch& watch, double power = 2,
                std::size_t first = 0) const;
    void keep_within(RootFactors& factors) const;

    // For refine() and its test: one error a place, with phase two; by the gain, then by log_a and
    // turn of each factor from `first` on, one row an error.
    std::size_t error_count() const { return aim_.size() * (counts_phase() ? 2 : 1); }
    static std::size_t number_count(const RootFactors& factors, std::size_t first);
    void errors(const RootFactors& factors, std::span<double> errors) const;
    void error_slopes(const RootFactors& factors, std::size_t first,
                      std::span<double> slopes) const;

private:
    bool counts_phase() const { return !aim_.phase_rad.empty(); }
    std::vector<double> phase_rad(const RootFactors& factors) const;
    NumberBounds bounds_of_log_a() const;
    NumberBounds bounds_of_turn(const RootFactor& factor) const;

    const ResponseAim& aim_;
    FrequencyGrid grid_;
    std::vector<double> scale_; // root of each weight's share
    double greatest_q_;
};

} // namespace syntonon
