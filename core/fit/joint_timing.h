// The timing of sections that are fitted to more than a gain: beside JointSections, which knows
// their level and bounds.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/fit_figures.h"
#include "core/fit/joint_sections.h"

#include <span>
#include <vector>

namespace syntonon {

// Sections, all-passes among them, and by how much they may be later than the aim.
struct TimedSections {
    std::vector<SectionNumbers> sections;
    double delay_s = 0;
};

// How an error of the phase counts: as the chord, which does not know about whole turns, or as it
// is, from where all-passes that are some turns away find the way.
enum class PhaseErrors { by_chord, straight };

// Phase errors in dB: 6.6 degrees off are as far, on the complex plane of logarithms, as 1 dB.
class JointTiming {
public:
    // Spec and aim, which must have a timing, must outlive it.
    JointTiming(const CorrectionSpec& spec, const CorrectionAim& aim, double sample_rate_hz,
                PhaseErrors count = PhaseErrors::by_chord);

    // The weighted mean of squared errors, in dB^2, as JointSections::cost.
    double cost(const TimedSections& timed) const;
    double cost(std::span<const double> phase_rad, double delay_s) const;

    // Over the aim's places; locked sections' first.
    const FrequencyGrid& grid() const { return grid_; }
    std::vector<double> phases(std::span<const SectionNumbers> sections) const;
    // The delay with which such a phase is nearest to the aim, turns aside; 0 where none is free.
    double best_delay_s(std::span<const double> phase_rad) const;
    // A group delay's error is that over a third of an octave.
    TimingError error_of(std::span<const double> phase_rad, double delay_s) const;
    const TimingAim& aim() const { return aim_; }
    bool is_delay_free() const { return aim_.up_to_a_delay; }

    // All squares of which the cost is made. The chord is twice the sine of half the error. Of a
    // delay the differences of the phase over a third of an octave count, always straight.
    std::size_t error_count() const { return rows_.size(); }
    void errors(std::span<const double> phase_rad, double delay_s, std::span<double> errors) const;
    // One row an error; by numbers, whose phase slopes are one row of places each, and by the
    // delay (null: not asked for).
    void error_slopes(std::span<const double> phase_rad, double delay_s,
                      std::span<const double> phase_slopes, double* by_numbers,
                      double* by_delay) const;

private:
    struct Row {
        std::size_t place, before; // the same where the phase itself counts
        double scale;
        double aim_rad, omega; // of the difference; omega in rad/s
    };
    double off_rad(const Row& row, std::span<const double> phase_rad, double delay_s) const;
    double error(const Row& row, double off_rad) const;
    double error_slope(const Row& row, double off_rad) const;

    const TimingAim& aim_;
    FrequencyGrid grid_;
    std::vector<double> locked_rad_;
    std::vector<Row> rows_;
    bool by_chord_;
};

// As JointSections::refine, with the timing's errors beside those of the level, and the delay where
// it is free. Where none but all-passes are turned the level does not count.
void refine(const JointSections& levels, const JointTiming& timing, TimedSections& timed,
            const Effort& effort, const Watch& watch, const FreeNumbers& free = {},
            std::size_t first = 0);

} // namespace syntonon
