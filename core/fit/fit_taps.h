// One FIR that corrects level and, where asked, timing.
//
// Level: the aim's gain, and so an inversion regularised by its limits (O. Kirkeby and P. A.
// Nelson, Digital filter design for inversion problems in sound reproduction, J. Audio Eng. Soc.
// 47(7/8), 1999), with the phase that belongs to it. Mixed phase inverts the excess phase of the
// timing, too, below a frequency: what an all-pass of the room does late is done early by the
// filter, which rings before the sound wherever the two do not cancel (M. Karjalainen and others,
// About room response equalization and dereverberation, IEEE WASPAA 2005; S. G. Norcross, G. A.
// Soulodre and M. C. Lavoie, Subjective investigations of inverse filtering, J. Audio Eng. Soc.
// 52(10), 2004). How far up that goes is found: as far as no position rings louder before its
// sound than allowed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/correction_aim.h"

#include <vector>

namespace syntonon {

struct FoundTaps {
    std::vector<double> taps;
    double delay_samples = 0;   // of the sound: where the filter of gain 1 would have its tap
    double timing_up_to_hz = 0; // mixed phase: so far the excess phase is inverted; 0: nowhere
    std::vector<double> pre_ringing_db; // of each position that has phase, with the filter
};

// Refused: mixed phase without a timing that the positions agree on ("phase"), a length that cannot
// resolve from_hz ("length"); stopped().
Expected<FoundTaps> find_taps(const CorrectionSpec& spec, const CorrectionAim& aim,
                              const Brief& brief, const Watch& watch);

// The greatest magnitude earlier than `before_s` before the greatest one of a response, against
// that, in dB; -infinity: there is nothing.
double pre_ringing_level_db(const std::vector<double>& response, double before_s,
                            double sample_rate_hz);

} // namespace syntonon
