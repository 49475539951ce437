// The least change of a chain that meets its goal.
//
// The numbers that may be turned move together: their margins are taken as straight for one step,
// and the shortest way to where all are met is found (least distance programming: C. L. Lawson and
// R. J. Hanson, Solving Least Squares Problems, 1974, chapter 23), step by step, sequential
// quadratic programming's way (J. Nocedal and S. J. Wright, Numerical Optimization, 2nd ed., 2006,
// chapter 18). Where not all can be met, what is missed is made small. Then numbers that hardly
// move are put back, so that few change.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/verdict.h"
#include "core/study/briefs.h"

#include <string>
#include <vector>

namespace syntonon {

// A number of a stage, as knob.h names it.
struct MendKnob {
    std::string stage, key;

    bool operator==(const MendKnob&) const = default;
};

// What may sensibly be turned of a chain: frequencies, gains and widths of the stages that are
// switched on, at every depth; not what is locked in a correction, not whole numbers, not numbers
// of which there are hundreds.
std::vector<MendKnob> knobs_to_mend(const Channel& channel);

struct MendChange {
    MendKnob knob;
    std::string caption, unit;
    double from = 0, to = 0;
    // In steps of about as much to the ear: a third of an octave of a frequency, 1 dB, half an
    // octave of a width.
    double steps = 0;
};

struct Mended {
    Chain stages;                    // of the channel, with the changes
    std::vector<MendChange> changes; // the greatest first
    std::vector<std::string> added;  // bells at the chain's end, by their ids
    Verdict before, after;
    bool is_met = false; // all of it that is judged
};

// Turns only these; where that does not meet the goal, as many bells as may be are added at the
// end of the chain, each where the level leaves the corridor, the worst first. What takes long to
// design must have been (see finish_designs.h). Refused without a goal or where nothing of it can
// be judged, without a number that may be turned ("all is locked"), with a stage that cannot be
// designed, and with what is met already; stopped().
Expected<Mended> mend(const Study& study, const Channel& channel,
                      const std::vector<MendKnob>& knobs, Briefs& briefs, const Watch& watch = {},
                      int most_added = 0);

} // namespace syntonon
