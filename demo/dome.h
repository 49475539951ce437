// Brightwater's dome in the simulated room: its loudspeakers and seats.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/room.h"

#include <span>
#include <string>

namespace syntonon {

struct DomeLoudspeaker {
    std::string id, name; // "zenith", "Zenith"
    LoudspeakerPlan plan;
};

// Zenith, Sunrise and Sunset.
std::span<const DomeLoudspeaker> dome_loudspeakers();

ParametricSpec dome_microphone_section(); // what the microphone adds to everything

inline constexpr int dome_rows = 4;
Place dome_seat(int row);           // 0 to dome_rows - 1: from the dome's axis outwards
std::string dome_row_name(int row); // "row A"

// The way from one to the other and through the microphone; the sections of a loudspeaker differ a
// little from row to row.
ImpulseResponse dome_response(const DomeLoudspeaker& loudspeaker, int row, double sample_rate_hz);

} // namespace syntonon
