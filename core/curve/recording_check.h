// What makes a recorded sweep doubtful.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/deconvolution.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

enum class DoubtKind {
    clipped,
    noisy,
    lost_samples,      // a block that was dropped, or a click
    clocks_apart,      // drift between what plays and what records
    other_rate,        // recorded at another rate than the file says
    missing_reference, // its channel holds no sweep
    swapped_channels,
};

struct Doubt {
    DoubtKind kind;
    std::string text;    // a sentence without its point: "clipped in 12 places, first at 7.31 s"
    std::string way_out; // the same

    bool operator==(const Doubt&) const = default;
};

struct BandNoise {
    double centre_hz = 0; // of an octave
    double signal_to_noise_db = 0;
    bool at_least = false; // it ends before the noise is reached, so that there may be less of it
};

// Of an impulse response: what its octaves from 31.5 Hz to 16 kHz hold within a second from the
// arrival (or as long as it is) above what the noise of its last fifth would add up to in that
// time. An octave in which nothing but noise is found has 0 dB. Where the last fifth
// is quieter by 2 dB and more than the one before, it still dies away; where it is too short for
// the octave to tell, that is taken for so, too.
std::vector<BandNoise> noise_by_band(const ImpulseResponse& impulse);
// The octave from 63 Hz to 8 kHz that stands least above the noise; one that is only a bound where
// no other is known. Nothing of a few samples.
std::optional<BandNoise> worst_noise(const ImpulseResponse& impulse);

// Below so many dB above the noise, in any octave of the sweep from 63 Hz to 8 kHz, a response is
// called noisy: its level is then wrong by up to 0.3 dB or so.
inline constexpr double least_signal_to_noise_db = 30;

// Empty of a good recording. `reference`: the channel that records what is played, or empty.
// Clipping: three and more samples in a row at one greatest value. Rate: octaves a second of the
// ridge of a spectrogram against the plan's. Lost samples and drift: when the thirds of an octave
// from 1.25 kHz to 16 kHz arrive, against when the sweep played them; a jump is a block, a slope
// are the clocks; below, a block shows as a click. With several sweeps the clocks show in the
// distance of the first and the last one. The plan and the recordings as for deconvolved(), which
// must have succeeded.
std::vector<Doubt> doubts_of(std::span<const double> recording, std::span<const double> reference,
                             const SweepPlan& plan, const Deconvolved& made);

// Octaves a second that the recording's ridge rises by over the plan's; nothing where no sweep is
// found. 48/44.1 tells a recording of 44.1 kHz that says 48.
std::optional<double> rate_ratio(std::span<const double> recording, const SweepPlan& plan);
// Whether a tone rises in it at a fifth to five times the plan's pace, though it may end early.
bool holds_sweep(std::span<const double> recording, const SweepPlan& plan);
// The rate by which the sweep would have the plan's pace, a usual one where it is near; nothing
// where that is the plan's.
std::optional<double> told_rate_hz(std::span<const double> recording, const SweepPlan& plan);

} // namespace syntonon
