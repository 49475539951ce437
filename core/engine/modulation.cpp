// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/modulation.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

constexpr double most_oct = 10, longest_ms = 20'000, fastest_hz = 20'000;

template <double Modulation::*member>
constexpr NumberField<Modulation> number(std::string_view key, const char* caption,
                                         const char* unit, double least, double most,
                                         FieldSteps steps, Dimension dimension = Dimension::plain) {
    return {key,
            caption,
            unit,
            dimension,
            least,
            most,
            steps,
            [](const Modulation& m) { return std::optional(m.*member); },
            [](Modulation& m, double v) { m.*member = v; }};
}

constexpr std::array modulation_fields = std::to_array<NumberField<Modulation>>({
    number<&Modulation::envelope_oct>("envelope_oct", "Envelope", "oct", -most_oct, most_oct,
                                      FieldSteps::by_tenth),
    number<&Modulation::attack_ms>("attack_ms", "Attack", "ms", 0, longest_ms, FieldSteps::by_ratio,
                                   Dimension::time),
    number<&Modulation::decay_ms>("decay_ms", "Decay", "ms", 0, longest_ms, FieldSteps::by_ratio,
                                  Dimension::time),
    number<&Modulation::sustain>("sustain", "Sustain", "", 0, 1, FieldSteps::by_tenth),
    number<&Modulation::release_ms>("release_ms", "Release", "ms", 0, longest_ms,
                                    FieldSteps::by_ratio, Dimension::time),
    number<&Modulation::oscillator_oct>("oscillator_oct", "Oscillator", "oct", -most_oct, most_oct,
                                        FieldSteps::by_tenth),
    number<&Modulation::oscillator_hz>("oscillator_hz", "at", "Hz", 0.001, fastest_hz,
                                       FieldSteps::by_ratio, Dimension::frequency),
    number<&Modulation::velocity_oct>("velocity_oct", "Velocity", "oct", -most_oct, most_oct,
                                      FieldSteps::by_tenth),
    number<&Modulation::keyboard>("keyboard", "Keyboard", "", -2, 2, FieldSteps::by_tenth),
});

constexpr std::array modulation_waves = std::to_array<NamedValue<ModulationWave>>({
    {ModulationWave::sine, "sine", "sine"},
    {ModulationWave::triangle, "triangle", "triangle"},
    {ModulationWave::square, "square", "square"},
});

// The share of what is left that is gone in a sample, so that a thousandth is left after the time.
double share_in(double ms, double sample_rate_hz) {
    const double samples = ms * 1e-3 * sample_rate_hz;
    return samples < 1 ? 1 : 1 - std::exp(-std::log(1000) / samples);
}

} // namespace

std::span<const NumberField<Modulation>> fields_of(const Modulation&) {
    return modulation_fields;
}

std::span<const NamedValue<ModulationWave>> names_of_modulation_waves() {
    return modulation_waves;
}

void Envelope::prepare(const Modulation& modulation, double sample_rate_hz) {
    attack_ = share_in(modulation.attack_ms, sample_rate_hz);
    decay_ = share_in(modulation.decay_ms, sample_rate_hz);
    release_ = share_in(modulation.release_ms, sample_rate_hz);
    sustain_ = std::clamp(modulation.sustain, 0.0, 1.0);
}

void Envelope::begin() {
    stage_ = Stage::attack;
}

void Envelope::release() {
    stage_ = stage_ == Stage::idle ? Stage::idle : Stage::release;
}

double Envelope::next() {
    constexpr double arrived = 1e-3, gone = 1e-4;
    switch (stage_) {
    case Stage::idle:
        return 0;
    case Stage::attack:
        value_ += attack_ * (1 - value_);
        if (value_ >= 1 - arrived) {
            value_ = 1;
            stage_ = Stage::decay;
        }
        return value_;
    case Stage::decay:
        value_ += decay_ * (sustain_ - value_);
        return value_;
    case Stage::release:
        value_ -= release_ * value_;
        if (value_ < gone) {
            reset();
        }
        return value_;
    }
    return value_;
}

double value_of(ModulationWave wave, double turn) {
    const double t = turn - std::floor(turn);
    switch (wave) {
    case ModulationWave::triangle:
        return t < 0.25 ? 4 * t : t < 0.75 ? 2 - 4 * t : 4 * t - 4;
    case ModulationWave::square:
        return t < 0.5 ? 1 : -1;
    case ModulationWave::sine:
        break;
    }
    return std::sin(2 * std::numbers::pi * t);
}

} // namespace syntonon
