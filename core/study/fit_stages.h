// Stages that are fitted: what that needs and finds, whatever their kind.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/fit_figures.h"
#include "core/fit/fitted_to.h"
#include "core/study/briefs.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// A kind that is fitted says what it finds: fit(spec, brief, watch, so_far). Designing it is
// something else: that makes a filter of what was found.
bool can_be_fitted(const StageSpec& spec);
std::string method_of_fit(const StageSpec& spec); // "sections"; empty where it cannot be

// Refused for a kind that is not fitted, and as its own fit() is.
using SpecSoFar = std::function<void(const StageSpec&)>;
Expected<StageSpec> fit(const StageSpec& spec, const Brief& brief, const Watch& watch,
                        const SpecSoFar& so_far = {});

// Whether what it was fitted to still holds; nothing also where it cannot be told: nothing was
// fitted yet, or the brief does not allow a fit.
std::optional<OutOfDate> out_of_date(const StageSpec& spec, const Brief& brief);

// How it stands; refused as a fit would be.
Expected<FitFigures> figures_of_fit(const StageSpec& spec, const Brief& brief);

bool is_fitted(const StageSpec& spec);      // something was found once
bool fits_by_itself(const StageSpec& spec); // when what it was fitted to changes

// The goal with what the stage is fitted to instead, where it states targets of its own.
std::optional<Goal> own_goal(const StageSpec& spec, Goal goal);

// Whether a fit looks only at an impulse response, not at goal and measured set; and of which curve
// (an id; empty: of the stages above).
struct ImpulseAsked {
    std::string curve;
};
std::optional<ImpulseAsked> impulse_asked(const StageSpec& spec);

// Of which other channel (an id) a fit follows the phase, and where.
struct PhaseAsked {
    std::string channel;
    double from_hz = 0, to_hz = 0;
};
std::optional<PhaseAsked> phase_asked(const StageSpec& spec);

// Of the channel's chain, in the order of the signal, at every depth, what is switched off left
// out.
std::vector<std::string> stages_to_fit(const Channel& channel);

struct FitPlace {
    std::string channel, stage; // ids

    bool operator==(const FitPlace&) const = default;
};
std::vector<FitPlace> places_to_fit(const Study& study, const std::vector<std::string>& channels);

// Fits these anew, one after the other, since those below see those above; what has to be designed
// for that is waited for. The study then has what was found. Reports to the watch how far it has
// come. Refused with the stage's place ("channels[0].stages[2].to_hz"), the study being as it was,
// and when the watch says stop.
Expected<Study> fitted_anew(Study study, const std::vector<FitPlace>& places, Briefs& briefs,
                            const Watch& watch = {});

// Whether what was fitted in one may be put into the other: nothing that a fit rests on differs.
// Deliveries, processors, signals and the study's name may.
bool is_same_ground(const Study& a, const Study& b);

// One recipe for many channels: each of them gets the stage's settings, in the same one of its own
// corrections (the first, the second, ...) or in a new one below its chain. What it has locked
// stays; the rest is to be fitted, at the places that are returned.
struct WithRecipe {
    Study study;
    std::vector<FitPlace> places; // in the order of the channels
};
WithRecipe with_recipe(Study study, const FitPlace& from, const std::vector<std::string>& channels);

// What a correction found as stages of their own: parametric ones, or taps. Empty before it found
// anything, and of other kinds (see opened.h).
std::vector<StageSpec> stages_of_found(const StageSpec& spec);

} // namespace syntonon
