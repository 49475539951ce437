// The document.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/shared_value.h"
#include "core/base/unknown_keys.h"
#include "core/curve/averages.h"
#include "core/curve/curve.h"
#include "core/curve/gate.h"
#include "core/engine/modulation.h"
#include "core/filter/axis.h"
#include "core/goal/goal.h"
#include "core/signal/recipe.h"
#include "core/study/chain.h"
#include "core/study/delivery.h"
#include "core/study/stage.h"
#include "core/word/processor.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// A frozen copy of a channel's chain, kept for comparison.
struct Take {
    std::string id;
    std::string name;
    bool shown = true; // on the lanes
    Chain stages;
    UnknownKeys unknown = {};

    bool operator==(const Take&) const = default;
};

// One curve minus another, each named "prediction", "measured", "target" or "take:<id>".
struct Difference {
    std::string of, from;
    UnknownKeys unknown = {};

    bool operator==(const Difference&) const = default;
};

// One microphone place.
struct Position {
    std::string curve; // its id
    double weight = 1; // of its power in the set
    UnknownKeys unknown = {};

    bool operator==(const Position&) const = default;
};
// See measured.h for what it comes to.
using MeasuredSet = std::vector<Position>;

// What of impulse responses counts, under a name; any number of curves use it.
struct NamedGate {
    std::string id;
    std::string name;
    Gate gate;
    UnknownKeys unknown = {};

    bool operator==(const NamedGate&) const = default;
};

// What is sent through a channel's chain, what its output is held against (ids of signals, or
// empty), and the chains that it is compared with ("take:<id>", "channel:<id>",
// "words:<id>").
struct Bench {
    std::string signal, reference;
    std::vector<std::string> compared = {};
    Modulation modulation = {}; // of the chain's modelled stages, and of what it is compared with
    UnknownKeys unknown = {};

    bool operator==(const Bench&) const = default;
};

// One output path.
struct Channel {
    std::string id;
    std::string name;
    std::string colour; // "#B4561F", or empty: the window chooses by position
    Domain domain = Domain::sampled;
    std::string mapped_from; // id of the analog channel that it was mapped from, or empty
    std::string goal;        // a goal's id, or empty
    MeasuredSet measured;
    AverageOf average = AverageOf::power; // what several positions come to
    Chain stages;
    std::vector<SharedValue<Take>> takes;
    std::optional<Difference> difference; // shown on the lanes
    Bench bench;
    UnknownKeys unknown = {};

    bool operator==(const Channel&) const = default;
};

// Copies share what is equal, so an undo history of whole studies is cheap.
struct Study {
    std::string name = "Untitled";
    double sample_rate_hz = 48000;
    std::vector<SharedValue<Curve>> curves;
    bool impulses_beside = false; // impulse responses are written beside the file, not into it
    std::vector<NamedGate> gates;
    std::vector<SharedValue<Curve>> microphones; // what each adds to what it hears
    std::vector<SharedValue<Goal>> goals;
    std::vector<SharedValue<Signal>> test_signals; // "signals" in the file: Qt has taken the word
    std::vector<SharedValue<Channel>> channels;
    std::vector<SharedValue<Processor>> processors; // its own, and changed ones of the program's
    std::vector<Delivery> deliveries;
    UnknownKeys unknown;

    bool operator==(const Study&) const = default;
};

// Null when there is none of that id.
const Curve* curve_of(const Study& study, std::string_view id);
const NamedGate* gate_of(const Study& study, std::string_view id);
const Curve* microphone_of(const Study& study, std::string_view id);
const Goal* goal_of(const Study& study, std::string_view id);
const Signal* signal_of(const Study& study, std::string_view id);
const Channel* channel_of(const Study& study, std::string_view id);
const Delivery* delivery_of(const Study& study, std::string_view id);
// The study's own, else one that comes with the program.
const Processor* processor_of(const Study& study, std::string_view id);
const Goal* goal_of(const Study& study, const Channel& channel);
// "channels[2]", for messages; empty for a channel that is not of the study.
std::string place_of(const Study& study, const Channel& channel);
const Take* take_of(const Channel& channel, std::string_view id);
const Stage* stage_of(const Channel& channel, std::string_view id); // at any depth

// What a target follows; the members that its kind needs are not null.
struct FoundSource {
    const Curve* curve = nullptr;
    const Channel* channel = nullptr;
    const Take* take = nullptr;
    const Stage* stage = nullptr;
};
// Refused when it is not there; the place is "curve", "channel", "take" or "stage".
Expected<FoundSource> find_source(const Study& study, const TargetSource& source);

std::string fresh_take_id(const Channel& channel); // "t3": one that no take of the channel has
// An id that none of the study's items has, with this wish at its front.
std::string fresh_id(const Study& study, std::string_view wish);

// On which the channel's filters are asked.
inline Axis axis_of(const Study& study, const Channel& channel) {
    return {study.sample_rate_hz, channel.domain};
}

// A study with one channel that has no stages.
Study empty_study();

} // namespace syntonon
