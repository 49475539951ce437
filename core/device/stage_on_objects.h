// Whether a stage can stand on certain objects of a device, and what they are set to for it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/device_tree.h"
#include "core/study/briefs.h"
#include "core/study/study.h"

#include <array>
#include <span>
#include <string>
#include <vector>

namespace syntonon::oca {

using Objects = std::vector<const DeviceObject*>;

// Kinds of which one object is made for one stage.
inline constexpr std::array made_for_one = {Kind::parametric_filter, Kind::classical_filter,
                                            Kind::gain, Kind::polarity, Kind::delay};

// Those within a block that can be set, in the device's order; not what only mutes.
Objects settable_in(const DeviceTree& tree, const std::string& block);
Objects of_kind(std::span<const DeviceObject* const> objects, Kind kind);

// A stage and what it does by itself.
struct Wanted {
    const Stage* stage;
    Expected<Filter> filter;
    bool is_waiting = false; // for its design
};
// Of the stages that count, in the order of the signal.
std::vector<Wanted> wanted_of(const Study& study, const Channel& channel, Briefs& briefs);

// The values are within the object's limits, and its samples come as often as the study's.
Expected<void> check_object(const DeviceObject& object, const Setting& setting,
                            double sample_rate_hz);
// Parallel to the objects. Refused, naming the object, where they cannot do what the stage does, or
// do not take the values.
Expected<std::vector<Setting>> fitting_settings(const Wanted& wanted,
                                                std::span<const DeviceObject* const> objects,
                                                double sample_rate_hz);

} // namespace syntonon::oca
