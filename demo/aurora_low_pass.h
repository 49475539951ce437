// The example of docs/aurora-low-pass.md: a low-pass for Aurora whose stopband is shaped.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

namespace syntonon {

// What the ring loudspeakers make of Aurora above its band is heard as hiss, less the higher it is,
// and the dimmers of the dome's lamps whistle near 15.6 kHz: a ceiling that falls by 12 dB an
// octave, with a pit. One FIR of 49 taps, its weights found by hugging the corridor; as takes the
// plain equiripple filter, and the one with weights drawn by hand.
Study aurora_low_pass_study();

} // namespace syntonon
