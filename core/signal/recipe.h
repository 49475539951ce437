// Test signals as recipes: what is kept of a signal instead of its samples. The same recipe gives
// the same samples, bit for bit; what is random has a seed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"
#include "core/design/field.h"
#include "core/engine/notes.h"

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace syntonon {

// Full scale is 1: a sine of that peak has 0 dBFS. `peak_db` says the greatest magnitude in dB of
// full scale; `level_db` of a noise its power in dB of a full-scale sine's (so that a white noise
// and a sine of one level are of one power).

struct ImpulseRecipe {
    static constexpr std::string_view kind = "impulse", title = "Impulse";
    double at_samples = 0;
    double peak_db = 0;
    bool operator==(const ImpulseRecipe&) const = default;
};

struct StepRecipe {
    static constexpr std::string_view kind = "step", title = "Step";
    double at_samples = 0;
    double peak_db = 0;
    bool operator==(const StepRecipe&) const = default;
};

// Pulses of one height; a width of 1 is one sample.
struct PulseTrainRecipe {
    static constexpr std::string_view kind = "pulse_train", title = "Pulse train";
    double period_samples = 480;
    double width_samples = 1;
    double peak_db = 0;
    bool operator==(const PulseTrainRecipe&) const = default;
};

struct ToneRecipe {
    static constexpr std::string_view kind = "tone", title = "Tone";
    double frequency_hz = 1000;
    double phase_deg = 0; // of a sine
    double peak_db = 0;
    bool operator==(const ToneRecipe&) const = default;
};

// Equal ratios, equally long, without a jump between them.
struct SteppedToneRecipe {
    static constexpr std::string_view kind = "stepped_tone", title = "Stepped tone";
    double from_hz = 31.25;
    double to_hz = 16000;
    double steps = 10;
    double peak_db = -6;
    bool operator==(const SteppedToneRecipe&) const = default;
};

enum class SweepPace { exponential, linear };

// A. Farina, Simultaneous measurement of impulse response and distortion with a swept-sine
// technique, AES 108th Convention, 2000, for the exponential one.
struct SweptToneRecipe {
    static constexpr std::string_view kind = "swept_tone", title = "Swept tone";
    double from_hz = 20;
    double to_hz = 20000;
    SweepPace pace = SweepPace::exponential;
    double peak_db = -6;
    bool operator==(const SweptToneRecipe&) const = default;
};

// Tones of one height in equal ratios, each a whole number of periods long; their phases keep the
// crest low (M. R. Schroeder, Synthesis of low-peak-factor signals and binary sequences with low
// autocorrelation, IEEE Trans. IT 16, 1970).
struct MultiToneRecipe {
    static constexpr std::string_view kind = "multi_tone", title = "Multi-tone";
    double from_hz = 100;
    double to_hz = 10000;
    double count = 21;
    double peak_db = -6;
    bool operator==(const MultiToneRecipe&) const = default;
};

struct WhiteNoiseRecipe {
    static constexpr std::string_view kind = "white_noise", title = "White noise";
    double level_db = -20;
    double seed = 1;
    bool operator==(const WhiteNoiseRecipe&) const = default;
};

// Equal power in equal ratios of frequency, from 10 Hz.
struct PinkNoiseRecipe {
    static constexpr std::string_view kind = "pink_noise", title = "Pink noise";
    double level_db = -20;
    double seed = 1;
    bool operator==(const PinkNoiseRecipe&) const = default;
};

// White within its edges, nothing outside.
struct BandNoiseRecipe {
    static constexpr std::string_view kind = "band_noise", title = "Noise in a band";
    double from_hz = 20;
    double to_hz = 60;
    double level_db = -30;
    double seed = 1;
    bool operator==(const BandNoiseRecipe&) const = default;
};

// Sawtooth waves with nothing above half the rate.
struct SawChordRecipe {
    static constexpr std::string_view kind = "saw_chord", title = "Sawtooth chord";
    std::vector<double> frequencies_hz = {110, 164.8138, 220, 277.1826};
    double peak_db = -6;
    bool operator==(const SawChordRecipe&) const = default;
};

// Played by an instrument: where a chain has modelled stages, each note has filters of its own.
struct NotesRecipe {
    static constexpr std::string_view kind = "notes", title = "Notes";
    std::vector<Note> notes = {{0, 1.5, 45}, {0, 1.5, 52}, {0, 1.5, 57}, {0, 1.5, 61}}; // a chord
    NoteWave wave = NoteWave::saw;
    double note_peak_db = -12; // of one at full velocity
    bool operator==(const NotesRecipe&) const = default;
};

// Whole cycles under a raised cosine, again and again.
struct ToneBurstRecipe {
    static constexpr std::string_view kind = "tone_burst", title = "Tone burst";
    double frequency_hz = 1000;
    double cycles = 8;
    double every_ms = 250;
    double peak_db = -6;
    bool operator==(const ToneBurstRecipe&) const = default;
};

// A beat of falling drum, rattle and hiss.
struct PercussionRecipe {
    static constexpr std::string_view kind = "percussion", title = "Percussive loop";
    double beats_per_minute = 96;
    double peak_db = -3;
    double seed = 1;
    bool operator==(const PercussionRecipe&) const = default;
};

// Two boards struck together: modes of wood that die away within milliseconds.
struct ClapperRecipe {
    static constexpr std::string_view kind = "clapper", title = "Wooden clapper";
    double every_ms = 600;
    double peak_db = -3;
    double seed = 1;
    bool operator==(const ClapperRecipe&) const = default;
};

struct OffsetRecipe {
    static constexpr std::string_view kind = "offset", title = "Offset";
    double value = 0.5;
    bool operator==(const OffsetRecipe&) const = default;
};

// Typed or pasted; silence follows.
struct NumbersRecipe {
    static constexpr std::string_view kind = "numbers", title = "Numbers";
    std::vector<double> values = {1, 0.5, 0.25};
    bool operator==(const NumbersRecipe&) const = default;
};

// From one value to another over the whole signal, with one sample standing out now and then.
struct SpikesOnRampRecipe {
    static constexpr std::string_view kind = "spikes_on_ramp", title = "Spikes on a ramp";
    double from = 0;
    double to = 1;
    double every_samples = 16;
    double height = 1;
    bool operator==(const SpikesOnRampRecipe&) const = default;
};

// Something like a speaking voice: pulses of air through moving resonances, hisses, pauses.
struct NarrationRecipe {
    static constexpr std::string_view kind = "narration", title = "Narration";
    double pitch_hz = 118;
    double peak_db = -6;
    double seed = 1;
    bool operator==(const NarrationRecipe&) const = default;
};

// One channel of a sound file, or a part of it.
struct FileRecipe {
    static constexpr std::string_view kind = "file", title = "Sound file";
    std::string path;   // from the study's folder, or from the root
    std::string digest; // of its bytes when it was chosen; empty: not known
    double channel = 1; // counted from 1
    double from_s = 0;
    bool convert = false; // to the study's sample rate, where the file has another one
    bool operator==(const FileRecipe&) const = default;
};

// Two other signals of the study: the first as it is, the second so much weaker in power.
struct MixRecipe {
    static constexpr std::string_view kind = "mix", title = "Mix";
    std::string signal, disturbance; // ids
    double ratio_db = 12;
    bool operator==(const MixRecipe&) const = default;
};

using Recipe = std::variant<ImpulseRecipe, StepRecipe, PulseTrainRecipe, ToneRecipe,
                            SteppedToneRecipe, SweptToneRecipe, MultiToneRecipe, WhiteNoiseRecipe,
                            PinkNoiseRecipe, BandNoiseRecipe, SawChordRecipe, NotesRecipe,
                            ToneBurstRecipe, PercussionRecipe, ClapperRecipe, NarrationRecipe,
                            OffsetRecipe, NumbersRecipe, SpikesOnRampRecipe, FileRecipe, MixRecipe>;

std::span<const Recipe> all_recipes(); // one of each kind, as a new one begins
std::string_view kind_of(const Recipe& recipe);
std::string_view title_of(const Recipe& recipe); // "Pink noise"
std::string summary_of(const Recipe& recipe);    // "1 kHz · −6 dB"

enum class LengthUnit { samples, seconds };

struct SignalLength {
    LengthUnit unit = LengthUnit::seconds;
    double value = 4;
    bool operator==(const SignalLength&) const = default;
};

// What a study's list of signals holds.
struct Signal {
    std::string id, name;
    SignalLength length;
    Recipe recipe;
    UnknownKeys unknown = {};
    bool operator==(const Signal&) const = default;
};

// 16 million samples: nearly six minutes at 48 kHz.
inline constexpr std::size_t most_signal_samples = std::size_t(1) << 24;

// Refuses, as "length_s" or "length_samples", none, and more than most_signal_samples.
Expected<std::size_t> samples_of(const SignalLength& length, double sample_rate_hz);

std::span<const NumberField<ImpulseRecipe>> fields_of(const ImpulseRecipe&);
std::span<const NumberField<StepRecipe>> fields_of(const StepRecipe&);
std::span<const NumberField<PulseTrainRecipe>> fields_of(const PulseTrainRecipe&);
std::span<const NumberField<ToneRecipe>> fields_of(const ToneRecipe&);
std::span<const NumberField<SteppedToneRecipe>> fields_of(const SteppedToneRecipe&);
std::span<const NumberField<SweptToneRecipe>> fields_of(const SweptToneRecipe&);
std::span<const NumberField<MultiToneRecipe>> fields_of(const MultiToneRecipe&);
std::span<const NumberField<WhiteNoiseRecipe>> fields_of(const WhiteNoiseRecipe&);
std::span<const NumberField<PinkNoiseRecipe>> fields_of(const PinkNoiseRecipe&);
std::span<const NumberField<BandNoiseRecipe>> fields_of(const BandNoiseRecipe&);
std::span<const NumberField<SawChordRecipe>> fields_of(const SawChordRecipe&);
std::span<const NumberField<NotesRecipe>> fields_of(const NotesRecipe&);
std::span<const NumberField<ToneBurstRecipe>> fields_of(const ToneBurstRecipe&);
std::span<const NumberField<PercussionRecipe>> fields_of(const PercussionRecipe&);
std::span<const NumberField<ClapperRecipe>> fields_of(const ClapperRecipe&);
std::span<const NumberField<NarrationRecipe>> fields_of(const NarrationRecipe&);
std::span<const NumberField<OffsetRecipe>> fields_of(const OffsetRecipe&);
std::span<const NumberField<NumbersRecipe>> fields_of(const NumbersRecipe&);
std::span<const NumberField<SpikesOnRampRecipe>> fields_of(const SpikesOnRampRecipe&);
std::span<const NumberField<FileRecipe>> fields_of(const FileRecipe&);
std::span<const NumberField<MixRecipe>> fields_of(const MixRecipe&);

} // namespace syntonon
