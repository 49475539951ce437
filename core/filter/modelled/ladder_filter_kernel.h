// A ladder as an instrument has it: driven, its poles' outputs mixed into a response, at a multiple
// of the rate; for voices side by side. It needs nothing but the standard library, since what
// instruments are given is this text.
//
// What goes in behind the feedback and the four poles' outputs are, over the last of them,
// polynomials in s of degree 4 to 0; any numerator of that degree is a sum of theirs (B. Hutchins,
// Additional design ideas for voltage-controlled filters, Electronotes 85, 1978, for the
// transistor's ladder). Below, s is in units of the poles' own rate w.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/ladder_kernel.h"
#include "core/filter/modelled/modelled_filter_kernel.h"

#include <array>
#include <cmath>
#include <cstddef>

namespace syntonon::modelled {

// What goes in behind the feedback, then the poles' outputs: how much of each is in the response.
using LadderTaps = std::array<double, ladder_poles + 1>;
struct LadderMix {
    LadderTaps taps{};
    double last_by_feedback = 0; // what the last tap gets more, times k
    double rest_gain = 1;        // of the last pole at 0 Hz without feedback
    bool is_low = true;          // loses its bass to the feedback

    bool has_input() const { return taps[0] != 0; }
};

// Coefficients by ascending powers of s.
using LadderPolynomial = std::array<double, ladder_poles + 1>;

// Over the last pole's output: of what goes in behind the feedback (0) and of the poles (1 to 4).
inline LadderPolynomial ladder_polynomial(LadderType type, std::size_t at) {
    constexpr std::array<LadderPolynomial, ladder_poles + 1> transistor = {
        {{1, 4, 6, 4, 1}, {1, 3, 3, 1, 0}, {1, 2, 1, 0, 0}, {1, 1, 0, 0, 0}, {1, 0, 0, 0, 0}}};
    constexpr std::array<LadderPolynomial, ladder_poles + 1> diode = {
        {{1.0 / 3, 6, 35.0 / 3, 19.0 / 3, 1},
         {2, 22.0 / 3, 16.0 / 3, 1, 0},
         {5.0 / 3, 10.0 / 3, 1, 0, 0},
         {4.0 / 3, 1, 0, 0, 0},
         {1, 0, 0, 0, 0}}};
    return type == LadderType::transistor ? transistor[at] : diode[at];
}

inline LadderPolynomial times_power(const LadderPolynomial& p, std::size_t power, double factor) {
    LadderPolynomial product{};
    for (std::size_t i = power; i < product.size(); ++i) {
        product[i] = factor * p[i - power];
    }
    return product;
}

// Not yet of its gain.
inline LadderPolynomial numerator_of(LadderType type, LadderResponse response) {
    const double swing = type == LadderType::transistor ? 1 : 18.0 / 19; // (w0 / w)^2
    const auto at = [type](std::size_t pole) { return ladder_polynomial(type, pole); };
    switch (response) {
    case LadderResponse::low_24:
        break;
    case LadderResponse::low_18:
        return at(3);
    case LadderResponse::low_12:
        return at(2);
    case LadderResponse::low_6:
        return at(1);
    case LadderResponse::band_24:
        return times_power(at(4), 2, 1);
    case LadderResponse::band_12:
        return times_power(at(2), 1, 1);
    case LadderResponse::high_24:
        return times_power(at(4), 4, 1);
    case LadderResponse::high_12:
        return times_power(at(2), 2, 1);
    case LadderResponse::notch: {
        LadderPolynomial both = times_power(at(2), 2, 1);
        for (std::size_t i = 0; i < both.size(); ++i) {
            both[i] += swing * at(2)[i];
        }
        return both;
    }
    case LadderResponse::all_pass: {
        LadderPolynomial mirrored = at(0);
        mirrored[1] = -mirrored[1];
        mirrored[3] = -mirrored[3];
        return mirrored;
    }
    }
    return at(4);
}

// The square of its size at s = j p.
inline double power_of_polynomial(const LadderPolynomial& c, double p) {
    const double real = c[0] - p * p * (c[2] - p * p * c[4]), imaginary = p * (c[1] - p * p * c[3]);
    return real * real + imaginary * imaginary;
}

// Without feedback 1 at 0 Hz (low-passes), at the set frequency (band-passes), far above (all
// others).
inline LadderMix ladder_mix(LadderType type, LadderResponse response) {
    LadderPolynomial left = numerator_of(type, response);
    const LadderPolynomial below = ladder_polynomial(type, 0);
    LadderMix mix;
    mix.rest_gain = 1 / below[0];
    mix.is_low = response <= LadderResponse::low_6;
    double gain = 1;
    if (mix.is_low) {
        gain = below[0] / left[0];
    } else if (response == LadderResponse::band_24 || response == LadderResponse::band_12) {
        const double swing = type == LadderType::transistor ? 1 : 0.97332852678457515;
        gain = std::sqrt(power_of_polynomial(below, swing) / power_of_polynomial(left, swing));
    }
    mix.last_by_feedback = response == LadderResponse::all_pass ? 1 : 0;
    for (std::size_t tap = 0; tap <= ladder_poles; ++tap) { // from the highest power down
        const LadderPolynomial p = ladder_polynomial(type, tap);
        const std::size_t degree = ladder_poles - tap;
        const double share = left[degree];
        mix.taps[tap] = gain * share;
        for (std::size_t i = 0; i <= degree; ++i) {
            left[i] -= share * p[i];
        }
    }
    return mix;
}

// See modelled_filter_kernel.h.
template <std::size_t Voices>
class LadderCore {
public:
    static constexpr std::size_t voices = Voices;
    using Build = LadderBuild;
    using Knobs = LadderKnobs;
    using Row = std::array<double, Voices>;

    void prepare(const LadderBuild& build, double inner_rate_hz) {
        build_ = build;
        mix_ = ladder_mix(build.type, build.response);
        inner_rate_hz_ = inner_rate_hz;
        drive_.fill(1);
    }

    void set(std::size_t j, const LadderKnobs& before, const LadderKnobs& knobs) {
        if (knobs.drive_db != before.drive_db) {
            drive_[j] = std::pow(10, knobs.drive_db / 20);
        }
        const LadderCoefficients c = ladder_coefficients(
            build_.type, knobs.frequency_hz, knobs.resonance, inner_rate_hz_, build_.prewarped);
        ladders_.set(j, c);
        beyond_[j] = beyond_limit(knobs.resonance);
        const double lost = mix_.is_low ? build_.bass_compensation * c.k * mix_.rest_gain : 0;
        into_[j] = drive_[j] * (1 + lost);
        last_[j] = mix_.taps[ladder_poles] + mix_.last_by_feedback * c.k;
        out_of_[j] = 1 / drive_[j];
    }

    void set_frequencies(const Row& hz) {
        build_.type == LadderType::diode ? set_frequencies_of<LadderType::diode>(hz)
                                         : set_frequencies_of<LadderType::transistor>(hz);
    }

    void reset(std::size_t voice) {
        for (std::size_t i = 0; i < ladder_poles; ++i) {
            ladders_.s[i][voice] = ladders_.y[i][voice] = 0;
        }
    }

    template <class Use>
    void with_step(Use&& use) {
        if (build_.type == LadderType::diode) {
            with_step_of<LadderType::diode>(use);
        } else {
            with_step_of<LadderType::transistor>(use);
        }
    }

private:
    template <LadderType Type>
    void set_frequencies_of(const Row& hz) {
        const double* const beyond = beyond_.data();
        double* const g = ladders_.g.data();
        const double rate_hz = inner_rate_hz_;
        if (build_.prewarped) {
            for (std::size_t j = 0; j < Voices; ++j) {
                g[j] = ladder_g(Type, hz[j], beyond[j], rate_hz, true);
            }
        } else {
            for (std::size_t j = 0; j < Voices; ++j) {
                g[j] = ladder_g(Type, hz[j], beyond[j], rate_hz, false);
            }
        }
    }

    template <LadderType Type, class Use>
    void with_step_of(Use& use) {
        if (build_.saturating) {
            use([this](Row& x) { step<Type, true>(x); });
        } else {
            use([this](Row& x) { step<Type, false>(x); });
        }
    }

    template <LadderType Type, bool Saturating>
    void step(Row& x) {
        for (std::size_t j = 0; j < Voices; ++j) {
            x[j] *= into_[j];
        }
        if constexpr (Saturating) {
            step_ladders<Type>(ladders_, x);
        } else {
            step_linear_ladders<Type>(ladders_, x);
        }
        const bool has_input = mix_.has_input();
        for (std::size_t j = 0; j < Voices; ++j) {
            const double fed_back = x[j] - ladders_.k[j] * ladders_.y[3][j];
            const double in = has_input ? mix_.taps[0] * passed<Saturating>(fed_back) : 0;
            x[j] = out_of_[j]
                   * (in + mix_.taps[1] * ladders_.y[0][j] + mix_.taps[2] * ladders_.y[1][j]
                      + mix_.taps[3] * ladders_.y[2][j] + last_[j] * ladders_.y[3][j]);
        }
    }

    LadderBuild build_;
    LadderMix mix_;
    double inner_rate_hz_ = 96000;
    Row drive_{}, beyond_{}, into_{}, last_{}, out_of_{};
    LadderVoices<Voices> ladders_;
};

template <std::size_t Voices>
using LadderFilter = ModelledFilter<LadderCore<Voices>>;

} // namespace syntonon::modelled
