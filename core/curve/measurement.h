// What was measured, as it came: a curve that is worked out from it keeps it unchanged.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/shared_value.h"
#include "core/base/unknown_keys.h"
#include "core/curve/harmonics.h"
#include "core/curve/impulse_response.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// Where an impulse response lies when it is not kept in the study.
struct ImpulseFile {
    std::string path; // from the study's folder, or whole; empty: it is in the study
    std::string digest;
    int channel = 1; // of the file's, from 1

    bool operator==(const ImpulseFile&) const = default;
};

// An impulse response, or a response that a microphone's is taken out of.
struct Measurement {
    ImpulseResponse impulse; // no samples: a response, or a file that could not be read
    ImpulseFile file;
    std::vector<double> frequency_hz, magnitude_db, phase_deg; // of a response; see Curve
    std::vector<HarmonicLevels> harmonics;                     // of a recorded sweep
    UnknownKeys unknown = {};

    bool operator==(const Measurement&) const = default;
    bool is_impulse() const { return !impulse.samples.empty() || !file.path.empty(); }
    bool is_missing() const { return impulse.samples.empty() && !file.path.empty(); }
};

// How a curve is worked out.
struct CurveOrigin {
    SharedValue<Measurement> measured;
    std::string gate;               // its id; empty: all of the impulse response counts
    std::string microphone;         // id of the response that is taken out; empty: none
    std::optional<double> middle_s; // what time 0 is; nothing: when the sound arrives

    bool operator==(const CurveOrigin&) const = default;
};

// More is no impulse response but a recording: 87 s at 48 kHz.
inline constexpr std::size_t most_impulse_samples = std::size_t{1} << 22;

} // namespace syntonon
