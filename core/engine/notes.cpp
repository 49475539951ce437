// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/notes.h"

#include <array>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::array note_waves = std::to_array<NamedValue<NoteWave>>({
    {NoteWave::saw, "saw", "Sawtooth"},
    {NoteWave::square, "square", "Square"},
    {NoteWave::triangle, "triangle", "Triangle"},
});

// What is taken from a jump of 2 at turn 0 within a sample to either side.
double rounding(double turn, double step) {
    if (turn < step) {
        const double t = turn / step;
        return t + t - t * t - 1;
    }
    if (turn > 1 - step) {
        const double t = (turn - 1) / step;
        return t * t + t + t + 1;
    }
    return 0;
}

} // namespace

double hz_of_key(double key) {
    constexpr double a_key = 69, a_hz = 440, keys_an_octave = 12;
    return a_hz * std::exp2((key - a_key) / keys_an_octave);
}

std::span<const NamedValue<NoteWave>> names_of_note_waves() {
    return note_waves;
}

double NoteOscillator::next(NoteWave wave, double step) {
    const double here = turn_;
    turn_ += step;
    turn_ -= std::floor(turn_);
    if (wave == NoteWave::saw) {
        return 2 * here - 1 - rounding(here, step);
    }
    const double half = here < 0.5 ? here + 0.5 : here - 0.5;
    const double square = (here < 0.5 ? 1 : -1) + rounding(here, step) - rounding(half, step);
    if (wave == NoteWave::square) {
        return square;
    }
    // Its slope is the square; what began off the middle dies away.
    constexpr double kept = 0.9995;
    summed_ = kept * summed_ + 4 * step * square;
    return summed_;
}

} // namespace syntonon
