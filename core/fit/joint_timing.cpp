// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/joint_timing.h"

#include "core/base/units.h"
#include "core/fit/section_phases.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace syntonon {
namespace {

constexpr double db_per_neper = 20 / std::numbers::ln10;

} // namespace

JointTiming::JointTiming(const CorrectionSpec& spec, const CorrectionAim& aim,
                         double sample_rate_hz, PhaseErrors count)
    : aim_(*aim.timing), grid_(*FrequencyGrid::from_frequencies(aim.hz, sample_rate_hz)),
      locked_rad_(aim.size(), 0.0) {
    const auto& method = std::get<SectionsCorrection>(spec.method);
    for (const FoundSection& found : method.found) {
        if (found.locked) {
            const Response response =
                parametric_filter(found.section, sample_rate_hz)->response(grid_);
            std::ranges::transform(locked_rad_, response.phase_rad, locked_rad_.begin(),
                                   std::plus());
        }
    }
    const double octaves = std::log2(aim.hz.back() / aim.hz.front());
    constexpr double difference_oct = 1.0 / 3;
    const auto apart = std::clamp<std::size_t>(
        static_cast<std::size_t>(difference_oct / octaves * static_cast<double>(aim.size())), 1,
        aim.size() - 1);
    const bool by_delay = method.match == CorrectionMatch::delay;
    by_chord_ = !by_delay && count == PhaseErrors::by_chord;
    double total = 0;
    for (std::size_t i = by_delay ? apart : 0; i < aim.size(); ++i) {
        const std::size_t before = by_delay ? i - apart : i;
        const double weight =
            by_delay ? std::min(aim_.weight[i], aim_.weight[before]) : aim_.weight[i];
        const double from_hz = by_delay ? aim.hz[before] : 0;
        const double from_rad = by_delay ? aim_.phase_rad[before] : 0;
        rows_.push_back(
            {i, before, weight, aim_.phase_rad[i] - from_rad, 2 * pi * (aim.hz[i] - from_hz)});
        total += weight;
    }
    for (Row& row : rows_) {
        row.scale = total > 0 ? db_per_neper * std::sqrt(row.scale / total) : 0;
    }
}

double JointTiming::off_rad(const Row& row, std::span<const double> phase_rad,
                            double delay_s) const {
    const double before = row.before != row.place ? phase_rad[row.before] : 0;
    return phase_rad[row.place] - before - row.aim_rad + row.omega * delay_s;
}

double JointTiming::error(const Row& row, double off_rad) const {
    return row.scale * (by_chord_ ? 2 * std::sin(off_rad / 2) : off_rad);
}

double JointTiming::error_slope(const Row& row, double off_rad) const {
    return row.scale * (by_chord_ ? std::cos(off_rad / 2) : 1);
}

std::vector<double> JointTiming::phases(std::span<const SectionNumbers> sections) const {
    std::vector<double> phase = locked_rad_;
    for (const SectionNumbers& section : sections) {
        add_phases(section, grid_, phase);
    }
    return phase;
}

double JointTiming::cost(std::span<const double> phase_rad, double delay_s) const {
    double sum = 0;
    for (const Row& row : rows_) {
        const double error_db = error(row, off_rad(row, phase_rad, delay_s));
        sum += error_db * error_db;
    }
    return sum;
}

double JointTiming::cost(const TimedSections& timed) const {
    return cost(phases(timed.sections), timed.delay_s);
}

// A line through the errors of the phase; where the phase itself counts its value at 0 Hz is put
// onto whole turns, which nobody sees.
double JointTiming::best_delay_s(std::span<const double> phase_rad) const {
    if (!aim_.up_to_a_delay) {
        return 0;
    }
    const auto sums = [&](double at_zero, double mean_x) {
        double xy = 0, xx = 0;
        for (const Row& row : rows_) {
            const double weight = row.scale * row.scale, x = row.omega - mean_x;
            xy += weight * x * (off_rad(row, phase_rad, 0) - at_zero);
            xx += weight * x * x;
        }
        return xx > 0 ? xy / xx : 0;
    };
    if (rows_.front().before != rows_.front().place) {
        return -sums(0, 0);
    }
    double weights = 0, mean_x = 0, mean_y = 0;
    for (const Row& row : rows_) {
        const double weight = row.scale * row.scale;
        weights += weight;
        mean_x += weight * row.omega;
        mean_y += weight * off_rad(row, phase_rad, 0);
    }
    mean_x /= weights;
    mean_y /= weights;
    const double at_zero = mean_y - sums(mean_y, mean_x) * mean_x;
    return -sums(2 * pi * std::round(at_zero / (2 * pi)), 0);
}

TimingError JointTiming::error_of(std::span<const double> phase_rad, double delay_s) const {
    TimingError error;
    double squares = 0, weights = 0;
    for (const Row& row : rows_) {
        const double rad = off_rad(row, phase_rad, delay_s);
        const double off = row.before != row.place
                               ? 1e3 * std::abs(rad) / row.omega
                               : deg_from_rad(std::abs(std::remainder(rad, 2 * pi)));
        const double weight = row.scale * row.scale;
        squares += weight * off * off;
        weights += weight;
        if (weight > 0 && off > error.worst) {
            error.worst = off;
            error.worst_hz = grid_.frequency_hz()[row.place];
        }
    }
    error.rms = weights > 0 ? std::sqrt(squares / weights) : 0;
    return error;
}

void JointTiming::errors(std::span<const double> phase_rad, double delay_s,
                         std::span<double> errors) const {
    std::ranges::transform(rows_, errors.begin(), [&](const Row& row) {
        return error(row, off_rad(row, phase_rad, delay_s));
    });
}

void JointTiming::error_slopes(std::span<const double> phase_rad, double delay_s,
                               std::span<const double> phase_slopes, double* by_numbers,
                               double* by_delay) const {
    const std::size_t places = grid_.size(), numbers = phase_slopes.size() / places;
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        const Row& row = rows_[r];
        const double slope = error_slope(row, off_rad(row, phase_rad, delay_s));
        for (std::size_t k = 0; by_numbers != nullptr && k < numbers; ++k) {
            const std::span<const double> by = phase_slopes.subspan(k * places, places);
            const double before = row.before != row.place ? by[row.before] : 0;
            by_numbers[r * numbers + k] = slope * (by[row.place] - before);
        }
        if (by_delay != nullptr) {
            by_delay[r] = slope * row.omega;
        }
    }
}

} // namespace syntonon
