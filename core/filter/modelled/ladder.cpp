// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/modelled/ladder.h"

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

// What must go in, as phasors, so that the last pole's output is a sine of that amplitude and
// frequency.
std::optional<Complex> needed_for(LadderType type, double amplitude, double p) {
    const bool is_diode = type == LadderType::diode;
    const Complex turn(0, p);
    Complex y = amplitude;
    const double drop = is_diode ? amplitude / 3 : amplitude;
    Complex current = drop * describing_gain(drop);
    for (std::size_t i = ladder_poles; i > 0; --i) {
        current += turn * y;
        if (i == 1) {
            break;
        }
        const auto in = through_stage_backwards(current);
        if (!in) {
            return std::nullopt;
        }
        y = is_diode ? y + *in : *in;
        if (!is_diode) {
            current = y * describing_gain(std::abs(y));
        }
    }
    return current;
}

// Where what is needed is turned by half a circle: what the feedback hands back.
struct Turned {
    double p = 0, size = 0;
};
std::optional<Turned> half_turned(LadderType type, double amplitude) {
    const auto sine_of_turn = [&](double p) {
        const auto needed = needed_for(type, amplitude, p);
        return needed ? needed->imag() / std::abs(*needed) : -1;
    };
    const auto p = false_position(sine_of_turn, 1e-3, 1.5, 1e-13);
    const auto needed = p ? needed_for(type, amplitude, *p) : std::nullopt;
    return needed ? std::optional(Turned{*p, std::abs(*needed)}) : std::nullopt;
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

} // namespace syntonon::modelled
