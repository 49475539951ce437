// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/chain_facts.h"

#include "core/base/units.h"
#include "core/filter/form.h"

#include <algorithm>
#include <utility>

namespace syntonon {

FilterOfStage filters_of(std::shared_ptr<const ChannelAnalysis> analysis) {
    return [analysis = std::move(analysis)](const Stage& stage) -> std::optional<Filter> {
        const StageAnalysis* designed = analysis != nullptr ? analysis->stage(stage.id) : nullptr;
        return designed != nullptr && designed->filter ? std::optional(*designed->filter)
                                                       : std::nullopt;
    };
}

void ChainFacts::show(std::shared_ptr<const ChannelAnalysis> analysis, const Chain& chain) {
    if (analysis != analysis_) {
        analysis_ = std::move(analysis);
        chain_ = chain;
        extrema_.reset();
        identities_.reset();
        analog_.reset();
    }
}

void ChainFacts::clear() {
    show(nullptr, {});
}

const LevelExtrema& ChainFacts::extrema() {
    if (!extrema_) {
        extrema_.emplace();
        if (analysis_ != nullptr) {
            const Axis& axis = analysis_->grid->axis();
            const auto hz = analysis_->grid->frequency_hz();
            extrema_ = level_extrema(analysis_->chain, {hz.front(), hz.back(), axis});
        }
    }
    return *extrema_;
}

const std::vector<Identity>& ChainFacts::identities() {
    if (!identities_) {
        const bool is_whole =
            analysis_ != nullptr && analysis_->problems.empty() && analysis_->waits_for.empty();
        identities_ = is_whole ? identities_of(chain_, analysis_->chain, filters_of(analysis_))
                               : std::vector<Identity>{};
    }
    return *identities_;
}

std::optional<Filter> ChainFacts::filter_of(const std::set<std::string, std::less<>>& ids) const {
    return filter_of_parts(chain_, ids, filters_of(analysis_));
}

std::optional<Filter> ChainFacts::analog(std::string_view stage) {
    if (analysis_ == nullptr || analysis_->grid->axis().is_analog()) {
        return std::nullopt;
    }
    if (!analog_) {
        analog_ =
            design_chain(chain_, ChainBrief(brief_at(analysis_->grid->axis())), analog_designs_);
    }
    if (stage.empty()) {
        return analog_->filter.is_analog() ? std::optional(analog_->filter) : std::nullopt;
    }
    const auto found = analog_->stages.find(stage);
    return found != analog_->stages.end() && found->second.filter
                   && found->second.filter->is_analog()
               ? std::optional(*found->second.filter)
               : std::nullopt;
}

std::optional<Filter> ChainFacts::bilinear(const Stage& stage) const {
    StageSpec spec = stage.spec;
    if (!use_bilinear(spec) || analysis_ == nullptr) {
        return std::nullopt;
    }
    const auto made = design(spec, brief_at(analysis_->grid->axis()), Watch());
    return made ? std::optional(made->filter) : std::nullopt;
}

std::optional<Filter> ChainFacts::without_feedback(const std::string& loop) const {
    const StageAnalysis* designed = analysis_ != nullptr ? analysis_->stage(loop) : nullptr;
    const Loop* form = designed != nullptr && designed->filter
                           ? std::get_if<Loop>(&designed->filter->form())
                           : nullptr;
    return form != nullptr ? filter_with(chain_, loop, form->forward, filters_of(analysis_))
                           : std::nullopt;
}

} // namespace syntonon
