// What will be heard: the measured response times the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"
#include "core/filter/filter.h"
#include "core/goal/company.h"
#include "core/goal/time_answer.h"

#include <memory>
#include <optional>
#include <utility>
#include <vector>

namespace syntonon {

// The curve must outlive it.
class Prediction {
public:
    // Of a delayed path, in a range that is judged: as many can be looked at one by one.
    static constexpr double most_ripples = 1 << 19;

    // `measured` may be null: the prediction is then the chain alone.
    Prediction(Filter chain, const CurveReader* measured, const Axis& axis);

    // Other channels' chains, for requirements that speak of them; null: none.
    void keep_company(std::shared_ptr<const Company> company) { company_ = std::move(company); }
    const Company* company() const { return company_.get(); }

    // Within [low_hz, high_hz]; -infinity where the chain has a zero.
    double level_db_at(double hz) const;
    double chain_level_db_at(double hz) const; // without the measured curve
    // Of the chain; NaN where the level vanishes.
    double group_delay_samples_at(double hz) const;
    // Of the chain, but for whole turns; where the level vanishes the limit from that side.
    double phase_deg_at(double hz, Side side = Side::above) const;
    // Of the chain, until it has died away (see time_answer.h); worked out once.
    const Expected<TimeAnswer>& impulse() const;
    std::vector<double> levels_db(const FrequencyGrid& grid) const;
    std::vector<double> group_delays_samples(const FrequencyGrid& grid) const; // as the one above
    std::vector<double> phases_deg(const FrequencyGrid& grid) const;           // as the one above

    // The frequencies between which it is known.
    double low_hz() const;
    double high_hz() const;

    // Frequencies in [from_hz, to_hz] between which the prediction is smooth and has no more than
    // one extremum each: a logarithmic grid, the measured curve's corners and what the chain's
    // filter tells (see Filter::telling_hz). Of a measured curve denser than `dense` points only
    // the highest and lowest corner of every 1/dense of the range are taken.
    std::vector<double> telling_frequencies(double from_hz, double to_hz) const;

    const Axis& axis() const { return axis_; }
    double sample_rate_hz() const { return axis_.sample_rate_hz; }
    const Filter& chain() const { return chain_; }
    bool is_chain_alone() const { return measured_ == nullptr; }

private:
    Filter chain_;
    Probe probe_;
    const CurveReader* measured_;
    Axis axis_;
    std::shared_ptr<const Company> company_;
    std::vector<double> all_telling_frequencies(double from_hz, double to_hz) const;

    mutable std::optional<Expected<TimeAnswer>> impulse_;
    mutable std::vector<double> telling_; // of the whole range, for parts of it
};

} // namespace syntonon
