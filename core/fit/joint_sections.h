// Bells and shelves fitted together to a gain over frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/fit/correction_aim.h"
#include "core/fit/least_squares.h"
#include "core/fit/section_levels.h"

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// What may be turned of each section.
struct FreeNumbers {
    bool frequency = true, gain = true, q = true;
};

// The task of finding sections for an aim. What they do together beyond the range is part of it: a
// gain between 0 dB and what it is at the range's edge, fading to 0 dB within two octaves, to
// within `outside_db`; and nowhere beyond the limits of all of it.
class JointSections {
public:
    static constexpr double outside_db = 0.1;
    static constexpr double fade_oct = correction_fade_oct;

    // Settings and aim must outlive it. Locked sections count, but are not turned.
    JointSections(const CorrectionSpec& spec, const CorrectionAim& aim, double sample_rate_hz);

    // The weighted mean of squared errors over the range, and so much for what is beyond the
    // limits that it does not pay.
    double cost(std::span<const SectionNumbers> sections) const;
    // Aim less gain at each place of the aim.
    std::vector<double> left_over(std::span<const SectionNumbers> sections) const;
    // By how much the gain beyond the range, and that over a limit, is too great: the greatest.
    double worst_outside_db(std::span<const SectionNumbers> sections) const;
    double worst_over_limit_db(std::span<const SectionNumbers> sections) const;

    // Nonlinear least squares over all free numbers at once within their bounds (Levenberg and
    // Marquardt's, by Ceres, with the closed-form slopes of section_levels.h). Sections before
    // `first` stay. Deterministic; ends early when the watch says stop.
    void refine(std::span<SectionNumbers> sections, const Effort& effort, const Watch& watch,
                const FreeNumbers& free = {}, std::size_t first = 0) const;
    // What lies out of a section's bounds is put onto them.
    void keep_within(SectionNumbers& section) const;

    // Cost beyond the limits counts so many times more from now on.
    void make_limits_dearer(double times) { dearness_ *= times; }

    struct Bounds {
        double least, greatest;
    };
    Bounds bounds_of(const SectionNumbers& section, std::size_t number) const; // as in slopes

    // The gain over all places, the locked sections' first; and the errors of such a gain, then
    // what of it is beyond limits: all squares of which the cost is made. With the gain's slopes by
    // some numbers, one row of places a number, the errors' by them, one row an error. For refine()
    // and its test.
    std::size_t place_count() const { return grid_.size(); }
    const FrequencyGrid& grid() const { return grid_; }
    std::vector<double> gains(std::span<const SectionNumbers> sections) const;
    std::size_t error_count() const;
    void errors(std::span<const double> gain_db, std::span<double> errors) const;
    void error_slopes(std::span<const double> gain_db, std::span<const double> gain_slopes,
                      double* error_slopes) const;

private:
    struct Outside {
        std::size_t place; // in the grid
        std::size_t edge;  // of the range, in the grid
        double share;      // of the edge's gain that is allowed
    };
    // An error is `scale` times what a gain's at `place` less `share` of that at `other` amounts
    // to.
    struct Row {
        double error, scale;
        std::size_t place;
        double share;
        std::size_t other;
    };
    template <class Take>
    void each_row(std::span<const double> gain_db, Take take) const;

    const CorrectionSpec& spec_;
    const SectionsCorrection& method_;
    const CorrectionAim& aim_;
    FrequencyGrid grid_;
    std::size_t first_ = 0; // of the range, in the grid
    std::vector<Outside> outside_;
    std::vector<double> locked_db_;      // over the grid
    std::vector<double> boost_limit_db_; // at each place of the aim
    std::vector<double> error_scale_;    // sqrt of the weight's share, at each place of the aim
    double dearness_ = 1;
};

} // namespace syntonon
