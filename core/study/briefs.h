// What the stages of a study may depend on, worked out when one of them asks for it: measured sets,
// goals, and with those the briefs of chains.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/resolved_goal.h"
#include "core/study/designed_chain.h"
#include "core/study/measured.h"
#include "core/study/view.h"

#include <map>
#include <memory>
#include <string>
#include <vector>

namespace syntonon {

// A channel's goal as it can be worked out now.
struct GoalAnswer {
    std::shared_ptr<const ResolvedGoal> goal; // null for a channel without one
    std::vector<DesignJob> jobs = {};         // of what its target follows
    bool waits = false;                       // for some of them; `level` is refused meanwhile
};

// Keeps what is costly (averages, smoothed curves, other channels' predictions) while what it was
// made of stays as it is, so that asking at every step of a drag costs little. For one thread.
//
// A chain may depend on its channel's target, that on another channel's prediction, and so on. Only
// what a stage needs is followed; where that leads back to the target it set out from, the stage is
// refused, and the channels are named.
class Briefs {
public:
    explicit Briefs(std::shared_ptr<DesignStore> store = std::make_shared<DesignStore>());

    // See measured.h.
    Expected<SharedMeasured> measured_of(const Study& study, const Channel& channel);
    // A target that cannot be worked out says why in its `level`.
    GoalAnswer goal_of(const Study& study, const Channel& channel);
    // The channel's chain, each stage with the brief that it needs.
    DesignedChain design(const Study& study, const Channel& channel, const View& view = {},
                         const LastFilter& last = {});

    // All that a fit of one of the channel's stages may depend on: the wish, the set, and the
    // filter of the stages above it that are switched on. Refused where one of these cannot be
    // worked out, or has to be designed first and is not yet (see finish_designs.h).
    Expected<Brief> fit_brief(const Study& study, const Channel& channel, std::string_view stage);

    DesignStore& store() { return *store_; }

private:
    // What a target's level is made of, however far away.
    struct Ingredients {
        Axis axis = {}; // of the channel
        std::vector<SharedValue<Curve>> curves;
        std::vector<double> weights;
        std::vector<SharedValue<Channel>> channels;
        std::vector<SharedValue<Goal>> goals;
        bool same_as(const Ingredients& other) const;
    };
    struct KeptGoal {
        Target target;
        Ingredients made_of;
        Expected<TargetCurve> level;
        SharedValue<Goal> goal;
        LevelOf level_of;
        std::shared_ptr<const ResolvedGoal> resolved_goal;
        std::shared_ptr<const Wished> wished; // null until a stage asks
    };
    struct KeptSeen {
        SharedMeasured measured;
        Seen seen;
    };
    void add_ingredients(const Study& study, const Channel& channel, const Target& target,
                         std::vector<std::string>& visited, Ingredients& all);
    void add_followed(const Study& study, const TargetSource& source,
                      std::vector<std::string>& visited, Ingredients& all);
    Problem going_round(const Study& study, const std::string& channel) const;
    void add_wished(const Study& study, const Channel& channel, ChainBrief& brief,
                    std::vector<DesignJob>& jobs);
    void add_seen(const Study& study, const Channel& channel, ChainBrief& brief);
    void hold(const ChannelView& key, const Chain& chain, const DesignedChain& designed);

    std::shared_ptr<DesignStore> store_;
    MeasuredSets measured_;
    std::map<std::string, KeptGoal, std::less<>> goals_; // by channel
    std::map<std::string, KeptSeen, std::less<>> seen_;  // by channel
    // What took long is held while it is in use, or it would be designed again and again.
    std::map<ChannelView, std::vector<DesignStore::Result>> in_use_;
    std::vector<std::string> following_; // channels whose target is being worked out
};

// Everything that has to be designed before the view of the channel, its goal too, is as it should
// be. Jobs that depend on others' results show up when those are there.
std::vector<DesignJob> jobs_of(const Study& study, const Channel& channel, const View& view,
                               Briefs& briefs);
// Adds those that are not there yet.
void add_jobs(std::vector<DesignJob> more, std::vector<DesignJob>& to);

} // namespace syntonon
