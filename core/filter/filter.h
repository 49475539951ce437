// What a designed stage is, whatever its kind: the one thing that draws, judges, plays and exports
// ask.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/cascade.h"

#include <cstddef>
#include <variant>
#include <vector>

namespace syntonon {

// An immutable value. Today a filter is a biquad cascade; further forms (taps, delay, parallel sum,
// loop) become further alternatives here and answer the same questions.
class Filter {
public:
    Filter() = default;
    Filter(Cascade cascade);

    Response response(const FrequencyGrid& grid) const;
    std::vector<double> magnitude_db(const FrequencyGrid& grid) const;
    std::vector<double> wrapped_phase_rad(const FrequencyGrid& grid) const;
    std::vector<double> group_delay_samples(const FrequencyGrid& grid) const;
    double group_delay_samples_at(double frequency_hz, double sample_rate_hz) const;
    ResponsePoint response_at(double frequency_hz, double sample_rate_hz) const;
    // See level_db_at(Cascade).
    double level_db_at(double half_sine_squared, double sine) const;
    std::vector<double> impulse_response(std::size_t length) const;
    const Roots& roots() const { return roots_; }
    double stability_margin() const { return syntonon::stability_margin(roots_); }
    bool is_stable() const { return stability_margin() > 0; }
    double latency_samples() const;
    Cost cost() const;

    // The sections, or nothing when the filter is not a cascade.
    const Cascade* as_cascade() const { return std::get_if<Cascade>(&form_); }

private:
    std::variant<Cascade> form_;
    Roots roots_; // asked for at every redraw
};

} // namespace syntonon
