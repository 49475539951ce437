// A simulated recorder, and what goes wrong with real ones.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/impulse_response.h"

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

struct DroppedBlock {
    double at_s = 0;
    std::size_t samples = 0;
};

// On request; by itself none of them.
struct RecordingFaults {
    std::optional<double> clips_at;     // of full scale
    double drift_ppm = 0;               // by which the recorder's clock is faster than the player's
    std::optional<double> true_rate_hz; // at which it samples, whatever it says
    std::optional<DroppedBlock> dropped_block;
    bool swapped_channels = false;  // reference and microphone
    bool missing_reference = false; // its cable is out
    std::optional<double> ends_at_s;
};

struct RecorderPlan {
    double sample_rate_hz = 48'000; // as it says
    double late_s = 0;              // by which the recorder begins before what is played
    // Of the recorded signal to white noise, both over the time in which something is played.
    std::optional<double> signal_to_noise_db;
    double second_harmonic = 0, third_harmonic = 0; // of x^2 and x^3, added before the room
    bool has_reference = false;                     // a second channel that records what is played
    double seed = 1;
    RecordingFaults faults;
};

struct Recording {
    double sample_rate_hz = 48'000;
    std::vector<std::vector<double>> channels; // the microphone, and the reference
};

// What was played at the path's sample rate, through the path, as the recorder has it.
Recording recorded(std::span<const double> played, const ImpulseResponse& path,
                   const RecorderPlan& plan);

} // namespace syntonon
