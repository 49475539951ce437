// The demo study: the dome of Brightwater Planetarium, made up and synthesised here.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

namespace syntonon {

// Two ring loudspeakers, Zenith and Sunrise, each measured from four seat rows; a house target with
// a corridor of ±2 dB; Zenith's chain meets it, Sunrise's is half done; a Docent microphone and
// Aurora, an effect. The same on every call and, since levels are rounded to 0.01 dB, on every
// machine.
Study brightwater_study();

} // namespace syntonon
