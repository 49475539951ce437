// Goals worked out for the channels that follow them: sources looked up, levels anchored.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/worked_goal.h"
#include "core/study/design_store.h"
#include "core/study/study.h"

#include <map>
#include <memory>
#include <string>
#include <vector>

namespace syntonon {

// Keeps what is costly (smoothed curves, other channels' predictions) while its source stays as it
// is, so that asking at every step of a drag costs little.
class Targets {
public:
    // The channel's goal, or null without one. A target that cannot be worked out says why in
    // `level`.
    std::shared_ptr<const WorkedGoal> goal_of(const Study& study, const Channel& channel,
                                              DesignStore& store);

private:
    struct Ingredients {
        double sample_rate_hz = 0;
        std::vector<SharedValue<Curve>> curves;
        std::vector<SharedValue<Channel>> channels;
        bool same_as(const Ingredients& other) const;
    };
    struct Kept {
        Target target;
        Ingredients made_of;
        Expected<TargetCurve> level;
        SharedValue<Goal> goal;
        LevelOf level_of;
        std::shared_ptr<const WorkedGoal> worked_goal;
    };
    static Ingredients ingredients(const Study& study, const Channel& channel,
                                   const Target& target);

    std::map<std::string, Kept, std::less<>> kept_; // by channel
};

// The level that the target asks of the channel. Refused, with the place within the goal, where the
// source or a measured curve is missing, or the target is the channel's own prediction.
Expected<TargetCurve> level_target(const Study& study, const Channel& channel, const Goal& goal,
                                   DesignStore& store);

} // namespace syntonon
