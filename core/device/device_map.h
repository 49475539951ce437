// Which objects of a device become which stages of a study's channels, and what they are set to.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/device_tree.h"
#include "core/study/briefs.h"
#include "core/study/study.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon::oca {

// A stage that counts and the objects that are to do what it does.
struct MappedStage {
    std::string stage, title;         // id; for people: "Peak 63 Hz"
    std::vector<std::string> objects; // paths
    std::vector<Setting> settings;    // parallel to them; empty where there is a problem
    std::optional<Problem> problem;   // why the stage cannot be there
};

struct MappedChannel {
    std::string channel, name; // id; for people
    std::string block;         // path
    std::vector<MappedStage> stages;
    std::vector<std::string> unused; // objects of the block that could be set and are not
    std::optional<Problem> problem;  // of the channel as a whole

    bool fits() const;
};

// As the delivery has it, its channels' stages in the order of the signal. A stage is a problem
// where none of its objects is chosen, one is not there, is used twice, is of a kind that cannot do
// it, or does not take the values: too few sections, taps beyond its length, another sample rate.
std::vector<MappedChannel> map_to_device(const Study& study, const Delivery& delivery,
                                         const DeviceTree& tree, Briefs& briefs);

// The delivery's own choices as far as they hold, and a proposal for the rest: blocks by name, else
// in their order; for each stage an object that is made for it (a bell to a parametric one), else
// polynomial objects for its sections, an FIR object for its taps. Stages that fit nowhere are left
// without objects.
DeviceTarget proposed_target(const Study& study, const Delivery& delivery, const DeviceTree& tree,
                             Briefs& briefs);

// Blocks that hold filters, whatever they are called.
std::vector<const DeviceObject*> outputs_of(const DeviceTree& tree);

// What an output of the device is set to as stages, in the order of its objects, each named by its
// object's role; what does nothing is left out. Refused, naming it, where an object could not be
// read, or where no stage does what it does.
Expected<Chain> chain_from_output(const DeviceTree& tree, const std::string& block,
                                  double sample_rate_hz);

} // namespace syntonon::oca
