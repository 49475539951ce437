// A stage turned into another kind that does the same.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/filter/rational.h"
#include "core/study/stage.h"

#include <span>
#include <string>
#include <vector>

namespace syntonon {

enum class OpenedAs {
    roots,        // poles, zeros and gain
    recursion,    // b and a
    sections,     // a recursion of second order each, held together by a `repeat` of 1
    taps,         // of what ends of itself
    all_pass_pair // a split of two all-passes, half their sum or difference
};

struct Opened {
    // One after the other they do what the stage did: roots cannot hold a delay.
    std::vector<StageSpec> specs;
    // How far off it may be, in plain words; empty where nothing is lost.
    std::string lost;
    // What the user can no longer turn, in plain words.
    std::string given_up;
};

// A recursion for each, held together by a `repeat` of 1 where there are several; one at least.
StageSpec in_one_stage(std::span<const Coefficients> fractions);

// `filter` is the stage's own. Refused where it has no roots or sections, more than 200 for a
// recursion, or is of a kind already that would come out.
Expected<Opened> opened(const Stage& stage, const Filter& filter, OpenedAs as);

} // namespace syntonon
