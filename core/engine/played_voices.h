// A chain with modelled stages as an instrument: every note has a voice, with filters, envelopes
// and states of its own. SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/live_keys.h"
#include "core/engine/modulation.h"
#include "core/engine/notes.h"
#include "core/filter/filter.h"

#include <memory>
#include <vector>

namespace syntonon {

inline constexpr std::size_t most_voices = 64;

struct Playing {
    // Notes, in place of what comes in; without them what comes in goes through one voice that is
    // begun where it begins.
    bool has_notes = false;
    std::vector<Note> notes;
    NoteWave wave = NoteWave::saw;
    double peak = 0.25;                   // of a note at full velocity
    std::shared_ptr<const LiveKeys> keys; // played beside the notes; null: none
    Modulation modulation;                // of all modelled stages

    bool operator==(const Playing&) const = default;
};

// A filter that is run so, and is in all else the chain. A voice's signal goes through all stages
// up to the last modelled one; what follows has the sum of all voices. Its loudness rises within 2
// ms and falls with the modulation's release. Where there are more notes than most_voices the
// oldest is cut off. A chain without modelled stages is handed back as it is, and so is one that
// nothing moves and no note plays.
Filter as_played(const Filter& chain, const Playing& playing, double sample_rate_hz);

} // namespace syntonon
