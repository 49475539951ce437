// Notes that an instrument plays, and the waves that it plays them with.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"

#include <span>

namespace syntonon {

// Keys are numbered as MIDI numbers them (The Complete MIDI 1.0 Detailed Specification, 1996):
// semitones, 60 the middle C, 69 the A of 440 Hz.
struct Note {
    double from_s = 0, to_s = 1;
    double key = 69;       // 0 to 127; between whole numbers, too
    double velocity = 0.8; // above 0 to 1

    bool operator==(const Note&) const = default;
};
inline constexpr double greatest_key = 127, middle_key = 60;
double hz_of_key(double key);

enum class NoteWave { saw, square, triangle };
std::span<const NamedValue<NoteWave>> names_of_note_waves();

// A wave of peak 1, its jumps and bends rounded over two samples, so that little of it folds back
// (V. Valimaki and A. Huovilainen, Antialiasing oscillators in subtractive synthesis, IEEE Signal
// Processing Magazine 24(2), 2007).
class NoteOscillator {
public:
    // `turns_per_sample` below 1/2.
    double next(NoteWave wave, double turns_per_sample);
    void reset() { *this = NoteOscillator(); }

private:
    double turn_ = 0;   // 0 <= turn < 1
    double summed_ = 0; // the triangle
};

} // namespace syntonon
