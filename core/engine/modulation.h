// What moves a modelled filter's frequency while it sounds.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/design/field.h"

#include <span>

namespace syntonon {

enum class ModulationWave { sine, triangle, square };

// Depths in octaves; the other way round where they are negative.
struct Modulation {
    // An envelope, begun with each note: up within the attack, down to the sustained share, held
    // while the key is, and down to 0 within the release.
    double envelope_oct = 0;
    double attack_ms = 10, decay_ms = 400, sustain = 0.3, release_ms = 300;
    // An oscillator, the same for all voices.
    double oscillator_oct = 0, oscillator_hz = 2;
    ModulationWave oscillator_wave = ModulationWave::sine;
    double velocity_oct = 0; // at full velocity
    double keyboard = 0;     // of the octaves from the middle key: 1 follows it whole

    bool operator==(const Modulation&) const = default;
    bool moves() const {
        return envelope_oct != 0 || oscillator_oct != 0 || velocity_oct != 0 || keyboard != 0;
    }
};

std::span<const NumberField<Modulation>> fields_of(const Modulation& modulation);
std::span<const NamedValue<ModulationWave>> names_of_modulation_waves();

// Begun and released; each way is an exponential one that has come to a thousandth of it within
// its time.
class Envelope {
public:
    void prepare(const Modulation& modulation, double sample_rate_hz);
    void begin();   // from where it is
    void release(); // the key is let go
    void reset() { value_ = 0, stage_ = Stage::idle; }
    double next();
    bool is_idle() const { return stage_ == Stage::idle; }

private:
    enum class Stage { idle, attack, decay, release };
    double attack_ = 1, decay_ = 1, release_ = 1, sustain_ = 0; // shares of the way by sample
    double value_ = 0;
    Stage stage_ = Stage::idle;
};

// -1 to 1; `turn` from 0 on.
double value_of(ModulationWave wave, double turn);

} // namespace syntonon
