// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/playing.h"

#include "core/base/units.h"

namespace syntonon {

Playing playing_of(const Recipe& recipe, const Modulation& modulation) {
    Playing playing;
    playing.modulation = modulation;
    if (const auto* notes = std::get_if<NotesRecipe>(&recipe)) {
        playing.has_notes = true;
        playing.notes = notes->notes;
        playing.wave = notes->wave;
        playing.peak = ratio_from_db(notes->note_peak_db);
    }
    return playing;
}

} // namespace syntonon
