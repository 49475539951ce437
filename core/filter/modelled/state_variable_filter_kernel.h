// State-variable filters as an instrument has them: one or several alike in series, driven, at a
// multiple of the rate; for voices side by side. It needs nothing but the standard library, since
// what instruments are given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/ladder_kernel.h"
#include "core/filter/modelled/modelled_filter_kernel.h"
#include "core/filter/modelled/state_variable_kernel.h"

#include <array>
#include <cmath>
#include <cstddef>

namespace syntonon::modelled {

// See modelled_filter_kernel.h.
template <std::size_t Voices>
class StateVariableCore {
public:
    static constexpr std::size_t voices = Voices;
    using Build = StateVariableBuild;
    using Knobs = StateVariableKnobs;
    using Row = std::array<double, Voices>;

    void prepare(const StateVariableBuild& build, double inner_rate_hz) {
        build_ = build;
        build_.in_series = build.in_series < most_in_series ? build.in_series : most_in_series;
        inner_rate_hz_ = inner_rate_hz;
        drive_.fill(1);
    }

    void set(std::size_t j, const StateVariableKnobs& before, const StateVariableKnobs& knobs) {
        if (knobs.drive_db != before.drive_db) {
            drive_[j] = std::pow(10, knobs.drive_db / 20);
        }
        const StateVariableCoefficients c =
            state_variable_coefficients(build_.response, knobs.frequency_hz, knobs.resonance,
                                        knobs.gain_db, inner_rate_hz_, build_.prewarped);
        moved_[j] = c.moved;
        g_[j] = c.g;
        damping_[j] = c.damping;
        of_input_[j] = c.of_input;
        of_band_[j] = c.of_band;
        of_low_[j] = c.of_low;
    }

    void set_frequencies(const Row& hz) {
        for (std::size_t j = 0; j < Voices; ++j) {
            g_[j] = moved_[j] * state_variable_tangent(hz[j], inner_rate_hz_, build_.prewarped);
        }
    }

    void reset(std::size_t voice) {
        for (std::size_t i = 0; i < most_in_series; ++i) {
            s1_[i][voice] = s2_[i][voice] = 0;
        }
    }

    template <class Use>
    void with_step(Use&& use) {
        if (build_.saturating) {
            use([this](Row& x) { step<true>(x); });
        } else {
            use([this](Row& x) { step<false>(x); });
        }
    }

private:
    template <bool Saturating>
    void step(Row& x) {
        if constexpr (Saturating) {
            for (std::size_t j = 0; j < Voices; ++j) {
                x[j] = saturated(drive_[j] * x[j]) / drive_[j];
            }
        }
        for (std::size_t i = 0; i < build_.in_series; ++i) {
            for (std::size_t j = 0; j < Voices; ++j) {
                StateVariableState state{s1_[i][j], s2_[i][j]};
                x[j] = step_state_variable(
                    {g_[j], damping_[j], moved_[j], of_input_[j], of_band_[j], of_low_[j]}, state,
                    x[j]);
                s1_[i][j] = state.s1;
                s2_[i][j] = state.s2;
            }
        }
    }

    StateVariableBuild build_;
    double inner_rate_hz_ = 48000;
    Row drive_{}, moved_{}, g_{}, damping_{}, of_input_{}, of_band_{}, of_low_{};
    std::array<Row, most_in_series> s1_{}, s2_{};
};

template <std::size_t Voices>
using StateVariableFilter = ModelledFilter<StateVariableCore<Voices>>;

} // namespace syntonon::modelled
