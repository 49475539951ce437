// A simulated room: what stands in for a loudspeaker, the air and a microphone.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/curve/impulse_response.h"
#include "core/design/parametric.h"

#include <optional>
#include <vector>

namespace syntonon {

struct Place {
    double x_m = 0, y_m = 0, z_m = 0; // from a lower corner of the room
};

// A rectangular one; its walls reflect a part of the pressure, less of it above a corner.
struct RoomPlan {
    double length_m = 18, width_m = 16, height_m = 9;
    double reflection = 0.72; // of the pressure, at each wall, at low frequencies
    double wall_corner_hz = 2500;
    double speed_of_sound_m_per_s = 343;
    double length_s = 0.5; // of the impulse response: what comes later is left out
    // What is scattered so often that it comes from everywhere: noise that dies away (J. A. Moorer,
    // About this reverberation business, Computer Music J. 3, 1979), of so much energy against the
    // direct sound; above the corner in half the time.
    std::optional<double> scattered_db;
    double scattered_time_s = 0.4; // for 60 dB

    bool operator==(const RoomPlan&) const = default;
};

struct LoudspeakerPlan {
    Place place;
    std::vector<ParametricSpec> sections; // what it does at every place alike
    double level_db = 0;                  // at 1 m, of full scale
};

// Image sources (J. B. Allen and D. A. Berkley, Image method for efficiently simulating small-room
// acoustics, JASA 65, 1979), each at its own time between samples (P. M. Peterson, Simulating the
// response of multiple microphones to a single acoustic source in a reverberant room, JASA 80,
// 1986). Refused, by the field's name, for a room without extent, a place outside of it, a
// reflection that is not below 1, and sections that cannot be designed.
Expected<ImpulseResponse> room_response(const RoomPlan& room, const LoudspeakerPlan& loudspeaker,
                                        const Place& microphone, double sample_rate_hz);

} // namespace syntonon
