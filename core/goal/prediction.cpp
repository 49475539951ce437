// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/prediction.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr double points_an_octave = 48;
constexpr std::size_t dense = 4096;
constexpr double nearly_nothing_db = -200;

// The corners of the curve in [from, to]; of a crowd of them the extremes of each small cell.
void add_corners(const CurveReader& curve, double from_hz, double to_hz, std::vector<double>& out) {
    const auto& f = curve.frequency_hz();
    const auto first = std::ranges::lower_bound(f, from_hz);
    const auto last = std::ranges::upper_bound(f, to_hz);
    if (last - first <= static_cast<std::ptrdiff_t>(dense)) {
        out.insert(out.end(), first, last);
        return;
    }
    const double step = std::pow(to_hz / from_hz, 1.0 / static_cast<double>(dense));
    auto cell = first;
    for (double end = from_hz * step; cell != last; end *= step) {
        const auto next = std::upper_bound(cell, last, std::max(end, *cell));
        const auto level = [&](double hz) { return curve.magnitude_db_at(hz); };
        const auto [lowest, highest] = std::ranges::minmax_element(cell, next, {}, level);
        out.push_back(*lowest);
        out.push_back(*highest);
        cell = next;
    }
}

} // namespace

Prediction::Prediction(Filter chain, const CurveReader* measured, const Axis& axis)
    : chain_(std::move(chain)), probe_(chain_, axis), measured_(measured), axis_(axis) {}

double Prediction::chain_level_db_at(double hz) const {
    return probe_.level_db(hz);
}

double Prediction::level_db_at(double hz) const {
    return chain_level_db_at(hz) + (measured_ != nullptr ? measured_->magnitude_db_at(hz) : 0.0);
}

double Prediction::group_delay_samples_at(double hz) const {
    return probe_.group_delay_samples(hz);
}

double Prediction::phase_deg_at(double hz, Side side) const {
    return deg_from_rad(probe_.phase_rad(hz, side));
}

const Expected<TimeAnswer>& Prediction::impulse() const {
    if (!impulse_) {
        impulse_ = settled_impulse_response(chain_, axis_);
    }
    return *impulse_;
}

std::vector<double> Prediction::levels_db(const FrequencyGrid& grid) const {
    std::vector<double> levels = chain_.magnitude_db(grid);
    for (std::size_t i = 0; i < levels.size(); ++i) {
        // Of a zero the quick way leaves some rounding.
        levels[i] =
            levels[i] > nearly_nothing_db ? levels[i] : probe_.level_db(grid.frequency_hz()[i]);
    }
    if (measured_ != nullptr) {
        std::ranges::transform(
            levels, grid.frequency_hz(), levels.begin(),
            [&](double level, double f) { return level + measured_->magnitude_db_at(f); });
    }
    return levels;
}

std::vector<double> Prediction::group_delays_samples(const FrequencyGrid& grid) const {
    return chain_.group_delay_samples(grid);
}

std::vector<double> Prediction::phases_deg(const FrequencyGrid& grid) const {
    std::vector<double> phases = chain_.wrapped_phase_rad(grid);
    std::ranges::transform(phases, phases.begin(), deg_from_rad);
    return phases;
}

double Prediction::low_hz() const {
    return measured_ != nullptr ? measured_->low_hz() : 0.0;
}

double Prediction::high_hz() const {
    const double end = axis_.end_hz();
    return measured_ != nullptr ? std::min(end, measured_->high_hz()) : end;
}

std::vector<double> Prediction::telling_frequencies(double from_hz, double to_hz) const {
    // A crowd of corners is thinned by the range that is asked for; all else is the same for a part
    // as for the whole.
    const bool is_fine =
        chain_.rippling_samples() * axis_.end_hz() / axis_.sample_rate_hz > most_ripples;
    if (is_fine || (measured_ != nullptr && measured_->frequency_hz().size() > dense)) {
        return all_telling_frequencies(from_hz, to_hz);
    }
    if (telling_.empty()) {
        telling_ = all_telling_frequencies(0, axis_.end_hz());
    }
    std::vector<double> frequencies{from_hz};
    const auto first = std::ranges::upper_bound(telling_, from_hz);
    const auto last = std::lower_bound(first, telling_.end(), to_hz);
    frequencies.insert(frequencies.end(), first, last);
    if (to_hz > from_hz) {
        frequencies.push_back(to_hz);
    }
    return frequencies;
}

std::vector<double> Prediction::all_telling_frequencies(double from_hz, double to_hz) const {
    std::vector<double> frequencies{from_hz, to_hz};
    // A range from 0 Hz has no logarithm; a ten-millionth of its end, or of 10 kHz where there is
    // none, is as good as 0 for a grid.
    constexpr double usual_end_hz = 10000;
    const double low =
        std::max(from_hz, (axis_.is_analog() ? std::min(to_hz, usual_end_hz) : to_hz) * 1e-7);
    const double ratio = std::exp2(1 / points_an_octave);
    for (double f = low * ratio; f < to_hz; f *= ratio) {
        frequencies.push_back(f);
    }
    if (measured_ != nullptr) {
        add_corners(*measured_, low, to_hz, frequencies);
    }
    const auto own = chain_.telling_hz({low, to_hz, ratio, axis_});
    frequencies.insert(frequencies.end(), own.begin(), own.end());
    std::ranges::sort(frequencies);
    frequencies.erase(std::unique(frequencies.begin(), frequencies.end()), frequencies.end());
    return frequencies;
}

} // namespace syntonon
