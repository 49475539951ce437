// What somebody is changing, set at a device while it changes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/transfer.h"

#include <chrono>
#include <cstddef>
#include <memory>
#include <optional>
#include <vector>

namespace syntonon::oca {

// Of every object the latest wish is set, the ones before it never; no more often than `between`.
// Nothing is muted and nothing ramped: steps are as small as those of the hand.
class LiveSettings {
public:
    // `now` is what the device holds. The controller must outlive it.
    LiveSettings(Controller& controller, const TransferPlan& now,
                 std::chrono::milliseconds between = std::chrono::milliseconds(25));
    ~LiveSettings(); // what is still wanted is set before
    LiveSettings(const LiveSettings&) = delete;
    LiveSettings& operator=(const LiveSettings&) = delete;

    // All objects as they will be. Those that are held so, within the plan's tolerance, are not
    // set.
    void want(const TransferPlan& plan);

    struct State {
        std::size_t sent = 0, passed_over = 0; // settings; wishes that later ones took the place of
        bool is_settled = true;                // the device holds what is wanted
        std::optional<Problem> problem;        // the device's last refusal, by the object's path;
                                               // gone when it took a later wish
    };
    State state() const;

private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
};

} // namespace syntonon::oca
