// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/prediction.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double points_an_octave = 48;
constexpr std::size_t dense = 4096;

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

Prediction::Prediction(std::span<const Filter> chain, const CurveReader* measured,
                       double sample_rate_hz)
    : chain_(chain), measured_(measured), sample_rate_hz_(sample_rate_hz) {
    Cascade all;
    for (const Filter& filter : chain_) {
        if (const Cascade* cascade = filter.as_cascade()) {
            all.sections.insert(all.sections.end(), cascade->sections.begin(),
                                cascade->sections.end());
        } else {
            others_.push_back(&filter);
        }
    }
    sections_ = Filter(std::move(all));
}

double Prediction::chain_level_db_at(double hz) const {
    const double w = rad_per_sample_from_hz(hz, sample_rate_hz_);
    const double half_sine = std::sin(w / 2);
    const double h = half_sine * half_sine;
    const double s = std::sin(w);
    double level = sections_.level_db_at(h, s);
    for (const Filter* filter : others_) {
        level += filter->level_db_at(h, s);
    }
    return level;
}

double Prediction::level_db_at(double hz) const {
    return chain_level_db_at(hz) + (measured_ != nullptr ? measured_->magnitude_db_at(hz) : 0.0);
}

double Prediction::group_delay_samples_at(double hz) const {
    double delay = sections_.group_delay_samples_at(hz, sample_rate_hz_);
    for (const Filter* filter : others_) {
        delay += filter->group_delay_samples_at(hz, sample_rate_hz_);
    }
    return delay;
}

double Prediction::phase_deg_at(double hz) const {
    double phase = sections_.response_at(hz, sample_rate_hz_).phase_rad;
    for (const Filter* filter : others_) {
        phase += filter->response_at(hz, sample_rate_hz_).phase_rad;
    }
    return deg_from_rad(phase);
}

const Expected<std::vector<double>>& Prediction::impulse() const {
    if (!impulse_) {
        impulse_ = others_.empty()
                       ? settled_impulse_response(sections_)
                       : refuse("",
                                "the chain holds more than cascades, which this version does "
                                "not follow in time",
                                "use a newer one");
    }
    return *impulse_;
}

std::vector<double> Prediction::levels_db(const FrequencyGrid& grid) const {
    std::vector<double> levels = sections_.magnitude_db(grid);
    for (const Filter* filter : others_) {
        std::ranges::transform(levels, filter->magnitude_db(grid), levels.begin(), std::plus<>());
    }
    if (measured_ != nullptr) {
        std::ranges::transform(
            levels, grid.frequency_hz(), levels.begin(),
            [&](double level, double f) { return level + measured_->magnitude_db_at(f); });
    }
    return levels;
}

std::vector<double> Prediction::group_delays_samples(const FrequencyGrid& grid) const {
    std::vector<double> delays = sections_.group_delay_samples(grid);
    for (const Filter* filter : others_) {
        std::ranges::transform(delays, filter->group_delay_samples(grid), delays.begin(),
                               std::plus<>());
    }
    return delays;
}

std::vector<double> Prediction::phases_deg(const FrequencyGrid& grid) const {
    std::vector<double> phases = sections_.wrapped_phase_rad(grid);
    for (const Filter* filter : others_) {
        std::ranges::transform(phases, filter->wrapped_phase_rad(grid), phases.begin(),
                               std::plus<>());
    }
    std::ranges::transform(phases, phases.begin(), deg_from_rad);
    return phases;
}

double Prediction::low_hz() const {
    return measured_ != nullptr ? measured_->low_hz() : 0.0;
}

double Prediction::high_hz() const {
    const double half = nyquist_hz(sample_rate_hz_);
    return measured_ != nullptr ? std::min(half, measured_->high_hz()) : half;
}

std::vector<double> Prediction::telling_frequencies(double from_hz, double to_hz) const {
    // A crowd of corners is thinned by the range that is asked for; all else is the same for a part
    // as for the whole.
    if (measured_ != nullptr && measured_->frequency_hz().size() > dense) {
        return all_telling_frequencies(from_hz, to_hz);
    }
    if (telling_.empty()) {
        telling_ = all_telling_frequencies(0, nyquist_hz(sample_rate_hz_));
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
    // A range from 0 Hz has no logarithm; a ten-millionth of its end is as good as 0 for a grid.
    const double low = std::max(from_hz, to_hz * 1e-7);
    const double ratio = std::exp2(1 / points_an_octave);
    for (double f = low * ratio; f < to_hz; f *= ratio) {
        frequencies.push_back(f);
    }
    if (measured_ != nullptr) {
        add_corners(*measured_, low, to_hz, frequencies);
    }
    for (const Filter& filter : chain_) {
        const auto near = frequencies_near(filter.roots(), low, to_hz, ratio, sample_rate_hz_);
        frequencies.insert(frequencies.end(), near.begin(), near.end());
    }
    std::ranges::sort(frequencies);
    frequencies.erase(std::unique(frequencies.begin(), frequencies.end()), frequencies.end());
    return frequencies;
}

} // namespace syntonon
