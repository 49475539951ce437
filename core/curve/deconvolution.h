// The impulse response out of a recorded sweep.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/impulse_response.h"
#include "core/curve/sweep.h"

#include <optional>
#include <span>
#include <vector>

namespace syntonon {

struct Deconvolved {
    // From halfway to what the second harmonic left to where the recording ends; time 0 is when the
    // first sample of what was played would have come without any way between.
    ImpulseResponse response;
    // What harmonics of order 2, 3, ... left, as far as they can be told apart, in the same place
    // as the response: their own lead is taken away.
    std::vector<ImpulseResponse> harmonics;
};

// The recording's spectrum over the sweep's, within the sweep's range; beyond it the quotient is
// held back where the sweep has no power (O. Kirkeby, P. A. Nelson, H. Hamada and F.
// Orduna-Bustamante, Fast deconvolution of multichannel systems using regularization, IEEE Trans.
// Speech Audio Processing 6, 1998), and it ends as smoothly as the sweep fades out. The recording
// begins with the first sample of what is played
// (played_samples), or anywhere before the sweep: then time 0 means nothing, and only differences
// do. Of several sweeps the mean, sample by sample: what repeats stays, and noise falls by 3 dB for
// each doubling. Refuses a recording that is shorter than the sweep, silent, or holds what is no
// number.
Expected<Deconvolved> deconvolved(std::span<const double> recording, const SweepPlan& plan,
                                  int most_harmonics = 4);

// The same out of a channel that records what was played (a loopback): its own delay and response
// are taken out of the other's. Both of one length.
Expected<Deconvolved> deconvolved_against(std::span<const double> recording,
                                          std::span<const double> loopback, const SweepPlan& plan,
                                          int most_harmonics = 4);

// One of several sweeps with the silence before it, in the place of the first; of a recording that
// ends before, as far as it goes.
std::vector<double> one_sweep_of(std::span<const double> recording, const SweepPlan& plan,
                                 int which);

} // namespace syntonon
