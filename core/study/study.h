// The document.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/shared_value.h"
#include "core/base/unknown_keys.h"
#include "core/curve/curve.h"
#include "core/goal/goal.h"
#include "core/study/delivery.h"
#include "core/study/stage.h"

#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// One output path.
struct Channel {
    std::string id;
    std::string name;
    std::string colour;   // "#B4561F", or empty: the window chooses by position
    std::string goal;     // a goal's id, or empty
    std::string measured; // a curve's id, or empty
    std::vector<Stage> stages;
    UnknownKeys unknown;

    bool operator==(const Channel&) const = default;
};

// Copies share what is equal, so an undo history of whole studies is cheap.
struct Study {
    std::string name = "Untitled";
    double sample_rate_hz = 48000;
    std::vector<SharedValue<Curve>> curves;
    std::vector<SharedValue<Goal>> goals;
    std::vector<SharedValue<Channel>> channels;
    std::vector<Delivery> deliveries;
    UnknownKeys unknown;

    bool operator==(const Study&) const = default;
};

// Null when there is none of that id.
const Curve* curve_of(const Study& study, std::string_view id);
const Goal* goal_of(const Study& study, std::string_view id);
const Channel* channel_of(const Study& study, std::string_view id);
const Goal* goal_of(const Study& study, const Channel& channel);
const Curve* measured_of(const Study& study, const Channel& channel);

// "s7": an id that no stage of the channel has; likewise among the study's items with this prefix.
std::string fresh_stage_id(const Channel& channel);
std::string fresh_id(const Study& study, std::string_view wish);

// A study with one channel that has no stages.
Study empty_study();

// Everything that keeps the study from being used in full, in order of the file: names of things
// that are not there, goals that contradict themselves, stages that cannot be designed. Places are
// paths ("channels[0].stages[2].frequency_hz").
std::vector<Problem> problems_of(const Study& study);

} // namespace syntonon
