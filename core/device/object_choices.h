// What a stage may become in an output of a device, for somebody who chooses.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/device_tree.h"
#include "core/study/briefs.h"
#include "core/study/study.h"

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace syntonon::oca {

// One object that is made for the stage; those that its sections, taps and delay need; or one that
// follows its curve (see curve_setting.h), which is never proposed.
struct ObjectChoice {
    std::vector<std::string> objects;   // paths, as many as are needed, in the device's order
    std::vector<std::string> in_use_by; // ids of other stages that one of them is chosen for now
    std::optional<Problem> problem;     // why they do not take it
};

constexpr std::size_t most_choices = 200;
// In the device's order, the first most_choices; sections on polynomial objects that follow one
// another. Kinds that can never do what the stage does are left out: none may be left. None for a
// stage or channel that is not there.
std::vector<ObjectChoice> choices_for(const Study& study, const Delivery& delivery,
                                      const DeviceTree& tree, const std::string& channel,
                                      const std::string& stage, Briefs& briefs);

// The delivery's device with that stage on these objects, which other stages then lose; without
// objects the stage has none.
DeviceTarget with_choice(DeviceTarget target, const std::string& channel, const std::string& stage,
                         const std::vector<std::string>& objects);
// With the channel on that block. Where it was another one, its stages have no objects any more;
// what channel had that block has none.
DeviceTarget with_block(DeviceTarget target, const std::string& channel, const std::string& block);

} // namespace syntonon::oca
