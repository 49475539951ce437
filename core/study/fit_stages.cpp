// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fit_stages.h"

#include "core/fit/fit_correction.h"
#include "core/fit/fit_recursive.h"
#include "core/study/finish_designs.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <array>
#include <iterator>

namespace syntonon {
namespace {

template <class Spec>
concept Fitted = requires(const Spec& spec, const Brief& brief, const Watch& watch) {
    { fit(spec, brief, watch, {}) } -> std::same_as<Expected<Spec>>;
    { out_of_date(spec, brief) } -> std::same_as<std::optional<OutOfDate>>;
    { figures_of_fit(spec, brief) } -> std::same_as<Expected<FitFigures>>;
    { is_fitted(spec) } -> std::same_as<bool>;
    { spec.refits } -> std::convertible_to<bool>;
};

// What `of` says of a kind that is fitted, else `without`.
template <class Of, class Answer>
Answer of_fitted(const StageSpec& spec, Of of, Answer without) {
    return std::visit(
        [&]<class Spec>(const Spec& s) -> Answer {
            if constexpr (Fitted<Spec>) {
                return of(s);
            }
            return without;
        },
        *spec);
}

tl::unexpected<Problem> no_fit() {
    return refuse("kind", "is no kind that is fitted", "fit a correction or a recursive fit");
}

Channel& channel_to_edit(Study& study, const std::string& id) {
    return std::ranges::find(study.channels, id, [](const auto& channel) { return channel->id; })
        ->edit();
}

Expected<StageSpec> fitted(const Study& study, const FitPlace& place, Briefs& briefs,
                           const Watch& watch) {
    const Channel& channel = *channel_of(study, place.channel);
    const std::array views = {ChannelView{channel.id, {}}};
    finish_designs(study, views, briefs);
    auto brief = briefs.fit_brief(study, channel, place.stage);
    if (!brief) {
        return tl::unexpected(brief.error());
    }
    return fit(stage_of(channel, place.stage)->spec, *brief, watch);
}

} // namespace

bool can_be_fitted(const StageSpec& spec) {
    return std::visit([]<class Spec>(const Spec&) { return Fitted<Spec>; }, *spec);
}

std::string method_of_fit(const StageSpec& spec) {
    if (const auto* correction = std::get_if<CorrectionSpec>(&*spec)) {
        return std::string(names_of_correction_methods()[correction->method.index()].key);
    }
    const auto* fitted = std::get_if<FittedSpec>(&*spec);
    return fitted != nullptr ? std::string(named(names_of_fitted_matches(), fitted->match).key)
                             : std::string();
}

Expected<StageSpec> fit(const StageSpec& spec, const Brief& brief, const Watch& watch,
                        const SpecSoFar& so_far) {
    return of_fitted(
        spec,
        [&]<class Spec>(const Spec& s) -> Expected<StageSpec> {
            const auto hear = [&](const Spec& found) {
                if (so_far) {
                    so_far(StageSpec(found));
                }
            };
            return fit(s, brief, watch, hear).map([](Spec found) {
                return StageSpec(std::move(found));
            });
        },
        Expected<StageSpec>(no_fit()));
}

std::optional<OutOfDate> out_of_date(const StageSpec& spec, const Brief& brief) {
    return of_fitted(
        spec, [&](const auto& s) { return out_of_date(s, brief); }, std::optional<OutOfDate>());
}

Expected<FitFigures> figures_of_fit(const StageSpec& spec, const Brief& brief) {
    return of_fitted(
        spec, [&](const auto& s) { return figures_of_fit(s, brief); },
        Expected<FitFigures>(no_fit()));
}

bool is_fitted(const StageSpec& spec) {
    return of_fitted(
        spec, [](const auto& s) { return is_fitted(s); }, false);
}

bool fits_by_itself(const StageSpec& spec) {
    return of_fitted(
        spec, [](const auto& s) { return s.refits; }, false);
}

std::optional<Goal> own_goal(const StageSpec& spec, Goal goal) {
    const auto* fitted = std::get_if<FittedSpec>(&*spec);
    if (fitted == nullptr || (!fitted->target && !fitted->phase_target && !fitted->delay_target)) {
        return std::nullopt;
    }
    if (fitted->target) {
        goal = Goal{};
        goal.target = *fitted->target;
    }
    goal.phase_target = fitted->phase_target ? fitted->phase_target : goal.phase_target;
    goal.delay_target = fitted->delay_target ? fitted->delay_target : goal.delay_target;
    return goal;
}

std::optional<ImpulseAsked> impulse_asked(const StageSpec& spec) {
    const auto* fitted = std::get_if<FittedSpec>(&*spec);
    return fitted != nullptr && fitted->match == FittedMatch::impulse
               ? std::optional(ImpulseAsked{fitted->curve})
               : std::nullopt;
}

std::optional<PhaseAsked> phase_asked(const StageSpec& spec) {
    const auto* fitted = std::get_if<FittedSpec>(&*spec);
    return fitted != nullptr && fitted->match == FittedMatch::phase && !fitted->channel.empty()
               ? std::optional(PhaseAsked{fitted->channel, fitted->from_hz, fitted->to_hz})
               : std::nullopt;
}

std::vector<std::string> stages_to_fit(const Channel& channel) {
    std::vector<std::string> ids;
    visit_stages(channel.stages, [&](const Stage& stage, const Slot&, int) {
        if (stage.enabled && can_be_fitted(stage.spec)) {
            ids.push_back(stage.id);
        }
    });
    return ids;
}

std::vector<FitPlace> places_to_fit(const Study& study, const std::vector<std::string>& channels) {
    std::vector<FitPlace> places;
    for (const std::string& id : channels) {
        for (std::string& stage : stages_to_fit(*channel_of(study, id))) {
            places.push_back({id, std::move(stage)});
        }
    }
    return places;
}

Expected<Study> fitted_anew(Study study, const std::vector<FitPlace>& places, Briefs& briefs,
                            const Watch& watch) {
    std::size_t done = 0;
    for (const FitPlace& place : places) {
        auto found = fitted(study, place, briefs, watch.part_of(done, places.size()));
        if (watch.is_stopped()) {
            return stopped();
        }
        const Channel& channel = *channel_of(study, place.channel);
        if (!found) {
            return tl::unexpected(
                within(place_of(study, channel) + "." + path_of(channel.stages, place.stage),
                       found.error()));
        }
        edit_stage(channel_to_edit(study, place.channel).stages, place.stage,
                   [&](Stage& stage) { stage.spec = *std::move(found); });
        watch.part_of(done++, places.size()).report(1);
    }
    return study;
}

bool is_same_ground(const Study& a, const Study& b) {
    return a.sample_rate_hz == b.sample_rate_hz && a.curves == b.curves && a.gates == b.gates
           && a.microphones == b.microphones && a.goals == b.goals && a.channels == b.channels;
}

namespace {

// Those of a channel, whether switched on or not.
std::vector<std::string> corrections_of(const Channel& channel) {
    std::vector<std::string> ids;
    visit_stages(channel.stages, [&](const Stage& stage, const Slot&, int) {
        if (std::holds_alternative<CorrectionSpec>(*stage.spec)) {
            ids.push_back(stage.id);
        }
    });
    return ids;
}

// The settings of one, and what the other has locked.
CorrectionSpec with_settings(CorrectionSpec settings, const CorrectionSpec& own) {
    settings.fitted_to.clear();
    settings.fitted_aim_db.clear();
    settings.fitted_aim_deg.clear();
    if (auto* taps = std::get_if<TapsCorrection>(&settings.method)) {
        taps->found = nullptr;
        taps->timing_up_to_hz = taps->worst_pre_ringing_db = 0;
        taps->sound_at_samples = 0;
        return settings;
    }
    auto& method = std::get<SectionsCorrection>(settings.method);
    method.delay_ms = 0;
    auto& found = method.found;
    found.clear();
    if (const auto* sections = std::get_if<SectionsCorrection>(&own.method)) {
        std::ranges::copy_if(sections->found, std::back_inserter(found), &FoundSection::locked);
    }
    return settings;
}

} // namespace

WithRecipe with_recipe(Study study, const FitPlace& from,
                       const std::vector<std::string>& channels) {
    WithRecipe made{std::move(study), {}};
    const Channel& source = *channel_of(made.study, from.channel);
    const Stage stage = *stage_of(source, from.stage);
    const auto& settings = std::get<CorrectionSpec>(*stage.spec);
    const auto all = corrections_of(source);
    const auto which = static_cast<std::size_t>(std::ranges::find(all, from.stage) - all.begin());
    for (const std::string& id : channels) {
        Channel& channel = channel_to_edit(made.study, id);
        const auto own = corrections_of(channel);
        std::string place = which < own.size() ? own[which] : std::string();
        if (place.empty()) {
            Stage added;
            added.name = stage.name;
            added.spec = with_settings(settings, CorrectionSpec());
            give_fresh_ids(added, channel.stages);
            place = added.id;
            channel.stages.emplace_back(std::move(added));
        } else {
            edit_stage(channel.stages, place, [&](Stage& edited) {
                edited.spec = with_settings(settings, std::get<CorrectionSpec>(*edited.spec));
                edited.enabled = true;
            });
        }
        made.places.push_back({id, std::move(place)});
    }
    return made;
}

std::vector<StageSpec> stages_of_found(const StageSpec& spec) {
    std::vector<StageSpec> stages;
    const auto* correction = std::get_if<CorrectionSpec>(&*spec);
    if (correction == nullptr) {
        return stages;
    }
    if (const auto* taps = std::get_if<TapsCorrection>(&correction->method)) {
        if (taps->found != nullptr) {
            stages.emplace_back(TapsSpec{taps->found});
        }
        return stages;
    }
    for (const FoundSection& found : std::get<SectionsCorrection>(correction->method).found) {
        stages.emplace_back(found.section);
    }
    return stages;
}

} // namespace syntonon
