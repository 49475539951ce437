// A channel's stages into a device: planned, sent, read back, compared; or the device is as it was.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/device/device_map.h"
#include "core/device/oca/setting_numbers.h"

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon::oca {

// One that is set, to what, and what it was.
struct PlannedObject {
    std::uint32_t number = 0;
    std::string path, channel, stage; // ids; no stage: it is left doing nothing
    Setting before, after;
    double tolerance = 1e-4; // of what is read back, see difference()
    bool was_enabled = true, will_be_enabled = true;

    bool changes() const {
        return was_enabled != will_be_enabled || difference(after, before) > tolerance;
    }
};

struct PlannedMute {
    std::uint32_t number = 0;
    std::string path;
    bool was_muted = false;
};

struct TransferPlan {
    std::vector<PlannedObject>
        objects;                    // of all channels' outputs, those that stay as they are, too
    std::vector<PlannedMute> mutes; // of those outputs
    std::vector<std::string> notes; // what stays and filters all the same, a sentence each
    bool mutes_outputs = true;
    int ramp_ms = 200; // of an object, where outputs are not muted

    std::size_t changes() const;
};

// Refused where a channel or a stage does not fit, naming it. `word` is what the device holds
// coefficients in, where that is known: they are read back within half a step of it.
Expected<TransferPlan> plan_transfer(const std::vector<MappedChannel>& channels,
                                     const DeviceTree& tree, const DeviceTarget& target,
                                     const std::optional<Word>& word = {});

// As the delivery has it, in the words of its processor where it names one.
Expected<TransferPlan> plan_transfer(const Study& study, const Delivery& delivery,
                                     const DeviceTree& tree,
                                     const std::vector<MappedChannel>& channels);
// To what was there before the plan, from what the device holds now.
TransferPlan way_back(TransferPlan plan, const DeviceTree& now);

// What has been done to one object, or failed.
struct TransferStep {
    std::string path;
    std::string what; // "written, read back, equal"; the reason of a failure
    bool is_done = true;
};
enum class TransferEnd {
    done,        // wholly as planned
    rolled_back, // wholly as it was
    unknown      // the device could not be reached or set any more; what it holds is not known
};
struct TransferReport {
    TransferEnd end = TransferEnd::done;
    std::optional<Problem> problem; // why it is not done
    std::vector<TransferStep> steps;
    std::vector<std::string> left_muted; // outputs that were not muted before
    std::size_t objects = 0, taps = 0;   // that were set; taps of stages among them
    double seconds = 0;
};

using Connect = std::function<Expected<std::unique_ptr<Controller>>()>;
struct Patience {
    int attempts = 6;     // to bring the device to one state or the other
    int between_ms = 150; // attempts, for a device that comes back
};
// Mutes, writes what differs, reads back, compares, opens again; what was muted before stays muted.
// Whatever goes wrong on the way, a stop too, it brings the device back to what it was before, with
// a new connection where the old one is lost.
TransferReport transfer(const Connect& connect, const TransferPlan& plan, const Watch& watch = {},
                        const Patience& patience = {});

} // namespace syntonon::oca
