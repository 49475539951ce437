// A goal's target, corridor and weights as what is asked of an FIR's amplitude.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/brief.h"
#include "core/design/fir/amplitude.h"

namespace syntonon {

// What a method makes least: how a corridor turns into weights depends on it.
enum class Least { squared_error, greatest_error };

// Gain and room at each frequency. Where the corridor is closed, half its width as a ratio; its
// middle is the gain aimed at where the greatest error counts, or where there is no target; but
// where ranges that touch would make that jump, the target with the room up to the nearer edge.
// Where it is open below and at least 20 dB under the greatest gain asked for it is a stopband:
// gain 0, and room up to its edge. Where it is open else, up to its edge from the target, or from
// 1 dB inside it without one. Without a corridor the room is the greatest gain asked for. The
// weight is the goal's own over the room, or over its square. Steps of at most 0.5 dB and 6 % of
// the weight; straight in gain over Hz within them. Refused at "use_goal" without a goal.
Expected<Amplitude> amplitude_of_goal(const Brief& brief, Least least);

// The corridor alone: it is met where errors times their weights are at most 1. Refused at
// "use_goal" where there is none.
Expected<Amplitude> amplitude_of_corridor(const Brief& brief);

} // namespace syntonon
