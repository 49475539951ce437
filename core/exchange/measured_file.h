// A file with something measured in it: a response as text, impulse responses, recorded sweeps.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/import_text.h"
#include "core/curve/recording_check.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

enum class SoundHolds { impulse_responses, sweep_recordings };

struct MeasuredFileOptions {
    ImportOptions text;
    std::optional<SoundHolds> sounds;     // nothing: as each file looks
    SweepPlan sweep;                      // what was played; its sample rate is that of the file
    bool rate_by_sweep = false;           // recorded at the rate that its sweep tells
    std::optional<int> reference_channel; // of a recording, from 1: holds what was played
};

struct MeasuredEntry {
    int channel = 0; // of a sound file, from 1
    Curve curve;     // without id and name; of a sound its origin holds the impulse response
    std::vector<std::string> notes;           // what was taken otherwise than written: sentences
    std::vector<Doubt> doubts;                // of a recording
    std::optional<double> signal_to_noise_db; // of the worst octave from 63 Hz to 8 kHz
};

struct MeasuredFile {
    std::filesystem::path path;
    std::optional<SoundHolds> sound;    // what was taken for what; nothing of a text
    std::vector<MeasuredEntry> entries; // of a text one, of a sound one a channel that has sound
    std::optional<Problem> problem;     // then there are no entries
};

// Text by import_text, sound by the end of the name (is_sound_file). Refused are also silence,
// impulse responses of more than most_impulse_samples, and recordings of more than twice what was
// played and a minute.
MeasuredFile read_measured_file(const std::filesystem::path& path,
                                const MeasuredFileOptions& options = {});

// Whether most of the energy stands within a tenth of a second.
bool looks_like_impulse(const std::vector<double>& samples, double sample_rate_hz);

} // namespace syntonon
