// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/modelled/ladder.h"

#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/math/false_position.h"
#include "core/math/polynomial_zeros.h"

#include <cmath>
#include <numbers>

namespace syntonon::modelled {
namespace {

using Complex = std::complex<double>;

// Where small signals swing at the limit, in units of the poles' own rate.
double swing_of(LadderType type) {
    return type == LadderType::transistor ? 1 : std::sqrt(18.0 / 19);
}

// Of the diode ladder: what goes in behind the feedback and what the poles hold, over the last
// pole's output, p being s over the poles' rate.
std::array<Complex, 5> over_last(Complex p) {
    return {(((p + 19.0 / 3) * p + 35.0 / 3) * p + 6.0) * p + 1.0 / 3,
            ((p + 16.0 / 3) * p + 22.0 / 3) * p + 2.0, (p + 10.0 / 3) * p + 5.0 / 3, p + 4.0 / 3,
            1.0};
}

// The amplitude of a stage's input whose output has that fundamental; nothing where it cannot be.
std::optional<double> input_for(double fundamental) {
    constexpr double most = 1e3;
    const auto beyond = [&](double input) { return input * describing_gain(input) - fundamental; };
    double high = fundamental; // a stage never gains
    while (beyond(high) <= 0) {
        high *= 2;
        if (!(high > 0 && high < most)) {
            return fundamental == 0 ? std::optional(0.0) : std::nullopt;
        }
    }
    return false_position(beyond, fundamental / 2, high, 1e-13 * high);
}

std::optional<Complex> through_stage_backwards(Complex out) {
    const double size = std::abs(out);
    const auto in = input_for(size);
    return in ? std::optional(size > 0 ? out * (*in / size) : out) : std::nullopt;
}

// What must go in behind the first stage, and what the poles hold, as phasors, so that the last
// pole's output is a sine of that amplitude and frequency.
struct Held {
    Complex current;
    std::array<Complex, ladder_poles> y;
};
std::optional<Held> held_by(LadderType type, double amplitude, double p) {
    const bool is_diode = type == LadderType::diode;
    const Complex turn(0, p);
    Held held;
    held.y.back() = amplitude;
    const double drop = is_diode ? amplitude / 3 : amplitude;
    held.current = drop * describing_gain(drop);
    for (std::size_t i = ladder_poles - 1;; --i) {
        held.current += turn * held.y.at(i);
        if (i == 0) {
            return held;
        }
        const auto in = through_stage_backwards(held.current);
        if (!in) {
            return std::nullopt;
        }
        held.y.at(i - 1) = is_diode ? held.y.at(i) + *in : *in;
        if (!is_diode) {
            held.current = *in * describing_gain(std::abs(*in));
        }
    }
}

// Where what is needed is turned by half a circle: what the feedback hands back.
struct Turned {
    double p = 0, size = 0;
};
std::optional<Turned> half_turned(LadderType type, double amplitude) {
    const auto sine_of_turn = [&](double p) {
        const auto held = held_by(type, amplitude, p);
        return held ? held->current.imag() / std::abs(held->current) : -1;
    };
    const auto p = false_position(sine_of_turn, 1e-3, 1.5, 1e-13);
    const auto held = p ? held_by(type, amplitude, *p) : std::nullopt;
    return held ? std::optional(Turned{*p, std::abs(held->current)}) : std::nullopt;
}

} // namespace

double describing_gain(double amplitude) {
    if (amplitude <= 0) {
        return 1;
    }
    constexpr int places = 64; // of a quarter; of a smooth periodic function the sum is as good
    double sum = 0;
    for (int i = 0; i < places; ++i) {
        const double sine = std::sin((i + 0.5) * std::numbers::pi / (2 * places));
        sum += saturated(amplitude * sine) * sine;
    }
    return 2 * sum / (places * amplitude);
}

std::complex<double> small_signal(LadderType type, double resonance, std::size_t at,
                                  std::complex<double> s) {
    const double k = resonance * ladder_limit(type);
    const Complex p = s * swing_of(type);
    if (type == LadderType::transistor) {
        const Complex pole = 1.0 / (1.0 + p), four = pole * pole * pole * pole;
        return std::pow(pole, static_cast<int>(at)) / (1.0 + k * four);
    }
    const auto over = over_last(p);
    return over.at(at) / (over[0] + k);
}

std::vector<std::complex<double>> small_signal_poles(LadderType type, double resonance) {
    const double k = resonance * ladder_limit(type);
    std::vector<Complex> poles;
    if (type == LadderType::transistor) { // (1 + p)^4 = -k
        for (const double quarter : {1.0, -1.0, 3.0, -3.0}) {
            poles.push_back(std::polar(std::pow(k, 0.25), quarter * std::numbers::pi / 4) - 1.0);
        }
        return poles;
    }
    const std::array<double, 5> coefficients = {1, 19.0 / 3, 35.0 / 3, 6, 1.0 / 3 + k};
    if (const auto found = polynomial_zeros(coefficients)) {
        for (const Complex& zero : found->zeros) {
            poles.push_back(zero / swing_of(type));
        }
    }
    return poles;
}

std::optional<SelfOscillation> self_oscillation(LadderType type, double resonance) {
    const double k = resonance * ladder_limit(type);
    if (resonance <= 1) {
        return std::nullopt;
    }
    // What is handed back beyond what is needed; it falls with the amplitude.
    const auto beyond = [&](double amplitude) {
        const auto needed = half_turned(type, amplitude);
        return needed ? k * amplitude * describing_gain(k * amplitude) / needed->size - 1 : -1;
    };
    constexpr double least = 1e-6, most = 20;
    const auto amplitude = false_position(beyond, least, most, 1e-10);
    const auto turned = amplitude ? half_turned(type, *amplitude) : std::nullopt;
    return turned ? std::optional(SelfOscillation{*amplitude, turned->p / swing_of(type)})
                  : std::nullopt;
}

namespace {

// What comes in and goes out where the last pole swings so far.
struct Driven {
    Complex in, out;
};
std::optional<Driven> driven_to(const LadderBuild& build, const LadderMix& mix, double k,
                                double amplitude, double p) {
    const auto held = held_by(build.type, amplitude, p);
    const auto first = held ? through_stage_backwards(held->current) : std::nullopt;
    if (!first) {
        return std::nullopt;
    }
    Complex out = mix.taps[0] * held->current + mix.last_by_feedback * k * held->y.back();
    for (std::size_t i = 0; i < ladder_poles; ++i) {
        out += mix.taps.at(i + 1) * held->y.at(i);
    }
    return Driven{*first + k * amplitude, out};
}

} // namespace

std::optional<std::complex<double>> driven_response(const LadderBuild& build, double resonance,
                                                    double amplitude, double w) {
    const LadderMix mix = ladder_mix(build.type, build.response);
    const double k = resonance * ladder_limit(build.type), p = w * swing_of(build.type);
    const double kept =
        mix.is_low ? 1 + build.bass_compensation * k * mix.rest_gain : 1; // of the bass
    const double wanted = amplitude * kept;
    const auto is_beyond = [&](double last) {
        const auto driven = driven_to(build, mix, k, last, p);
        return !driven || std::abs(driven->in) > wanted;
    };
    constexpr double least = 1e-12, step = 1.3, most = 1e3;
    double low = wanted * least, high = low;
    while (high < most && !is_beyond(high)) { // the first crossing, not any
        low = high;
        high *= high < wanted * 1e-3 ? 10 : step;
    }
    for (int i = 0; i < 40; ++i) {
        const double middle = std::sqrt(low * high);
        (is_beyond(middle) ? high : low) = middle;
    }
    const auto driven = driven_to(build, mix, k, low, p);
    return driven ? std::optional(driven->out / driven->in * kept) : std::nullopt;
}

} // namespace syntonon::modelled
