// All-passes fitted together to a group delay or to a phase.
//
// In the image of root_factors.h, with p = a^2 c^2, q = e^2 and y = a d sin(w) / 2, an all-pass is
// late by
//     a d (p + q) / ((p - q)^2 + y^2) samples of a pair,      a / (p + q) of a single root,
// and its phase lags by 2 atan2(y, p - q) and 2 atan2(e, a c): closed forms, as are their slopes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/least_squares.h"
#include "core/fit/recursive/root_factors.h"

#include <vector>

namespace syntonon {

// What all-passes are added to: parallel, ascending, below half the rate.
struct DelayAim {
    std::vector<double> hz, delay_samples; // of the chain without them, less what is wished
    // Where the phase counts and not the delay, which then is its slope: how far it lags without
    // them, less what is wished, half turns aside. They may be followed by a delay.
    std::vector<double> lag_rad;
    std::vector<double> weight; // of an error, at least one above 0
    bool up_to_a_delay = true;  // what is wished is only that it be the same everywhere

    std::size_t size() const { return hz.size(); }
    bool by_phase() const { return !lag_rad.empty(); }
};

// Poles of all-passes; their zeros mirror them.
struct AllPasses {
    std::vector<RootFactor> poles;
    // Of the chain with them, where that is free; by phase the delay that follows them, 0 or more.
    double delay_samples = 0;
    int half_turns = 0; // by phase: odd where the polarity is turned
};

void add_delay(const RootFactor& pole, const FrequencyGrid& grid, std::span<double> delay_samples,
               std::span<double> by_log_a, std::span<double> by_turn); // as add_level
void add_lag(const RootFactor& pole, const FrequencyGrid& grid, std::span<double> lag_rad,
             std::span<double> by_log_a, std::span<double> by_turn);

class JointDelays {
public:
    // The aim must outlive it. No pole has a higher Q, by its image, than `most_q`.
    JointDelays(const DelayAim& aim, double sample_rate_hz, double most_q);

    // The weighted mean of squared errors, in samples, by phase in rad.
    double cost(const AllPasses& found) const;
    double worst(const AllPasses& found) const; // the greatest weighted error
    void choose_delay(AllPasses& found) const;  // the best one, where it is free
    std::vector<double> delay_samples(const AllPasses& found) const; // of the all-passes alone
    const DelayAim& aim() const { return aim_; }
    const FrequencyGrid& grid() const { return grid_; }

    // As JointRoots::refine.
    void refine(AllPasses& found, const Effort& effort, const Watch& watch, double power = 2) const;

    // For refine() and its test: by the delay, then by log_a and turn of each pole.
    static std::size_t number_count(const AllPasses& found);
    void errors(const AllPasses& found, std::span<double> errors) const;
    void error_slopes(const AllPasses& found, std::span<double> slopes) const;

private:
    void add(const RootFactor& pole, std::span<double> sum, std::span<double> by_log_a,
             std::span<double> by_turn) const;
    std::vector<double> sum_of(const AllPasses& found) const; // of what counts
    double by_delay(std::size_t i) const;                     // slope of an error
    void choose_delay_by_phase(AllPasses& found) const;

    const DelayAim& aim_;
    FrequencyGrid grid_;
    std::vector<double> scale_;
    double most_q_;
};

// As find_roots: a start in which every all-pass fills as much of what lacks as one can, then all
// numbers together, then some are shaken out of where they came to rest.
AllPasses find_delays(const DelayAim& aim, double sample_rate_hz, int order, double most_q,
                      bool least_greatest, const Watch& watch,
                      const std::function<void(const AllPasses&)>& so_far = {});

} // namespace syntonon
