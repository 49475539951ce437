// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/fitter.h"

#include "app/model/session.h"
#include "app/model/stage_commands.h"
#include "core/study/kinds.h"

namespace syntonon {

// Handed from the thread that fits to the window's, which looks several times a second.
namespace {

std::vector<QString> names_of_positions(const Study& study, const Channel& channel) {
    std::vector<QString> names;
    for (const Position& position : channel.measured) {
        const Curve* curve = curve_of(study, position.curve);
        names.push_back(QString::fromStdString(curve != nullptr ? curve->name : position.curve));
    }
    return names;
}

} // namespace

Fitter::Fitter(Session& session) : QObject(&session), session_(session) {
    constexpr int settling_ms = 120, showing_ms = 60;
    settling_.setSingleShot(true);
    settling_.setInterval(settling_ms);
    showing_.setInterval(showing_ms);
    connect(&settling_, &QTimer::timeout, this, &Fitter::look_again);
    connect(&showing_, &QTimer::timeout, this, &Fitter::show_best_so_far);
    connect(&session, &Session::analysis_changed, this, [this] {
        refused_by_itself_.clear();
        settling_.start();
    });
}

std::shared_ptr<const FitState> Fitter::state_of(const std::string& stage) const {
    const auto found = states_.find(stage);
    return found != states_.end() ? found->second : nullptr;
}

void Fitter::look_again() {
    states_.clear();
    const Channel* channel = session_.channel();
    if (channel == nullptr) {
        return;
    }
    visit_stages(channel->stages, [&](const Stage& stage, const Slot&, int) {
        if (!can_be_fitted(stage.spec)) {
            return;
        }
        FitState state;
        state.is_fitted = is_fitted(stage.spec);
        const auto brief = session_.briefs().fit_brief(session_.study(), *channel, stage.id);
        if (brief) {
            state.outdated = out_of_date(stage.spec, *brief);
            state.figures = figures_of_fit(stage.spec, *brief);
        } else {
            state.figures = tl::unexpected(brief.error());
        }
        state.position_names = names_of_positions(session_.study(), *channel);
        states_[stage.id] = std::make_shared<const FitState>(std::move(state));
    });
    if (!states_.empty() || is_busy()) {
        emit changed();
    }
    refit_by_itself();
}

// Not after something was taken back: what was fitted for that would be in the way of doing it
// again.
void Fitter::refit_by_itself() {
    if (is_busy() || session_.history().canRedo()) {
        return;
    }
    for (const auto& [id, state] : states_) {
        const Stage* stage = session_.stage(id);
        const bool wants = stage != nullptr && stage->enabled && fits_by_itself(stage->spec)
                           && (state->outdated || !state->is_fitted);
        if (wants && id != refused_by_itself_) {
            refused_by_itself_ = id; // one that is at once outdated again is not fitted for ever
            begin(id);
            return;
        }
    }
}

Expected<void> Fitter::begin(const std::string& stage_id) {
    const Channel* channel = session_.channel();
    const Stage* stage = session_.stage(stage_id);
    if (channel == nullptr || stage == nullptr) {
        return refuse("", "there is no such stage", "select a correction");
    }
    auto brief = session_.briefs().fit_brief(session_.study(), *channel, stage_id);
    if (!brief) {
        return tl::unexpected(brief.error());
    }
    channel_ = channel->id;
    stage_ = stage_id;
    from_ = stage->spec;
    so_far_ = std::make_shared<SoFar<StageSpec>>();
    work_.begin(
        [spec = from_, brief = *std::move(brief), so_far = so_far_](const Watch& watch) {
            return fit(spec, brief, watch, [&](const StageSpec& found) { so_far->put(found); });
        },
        [this, from = from_](const Expected<StageSpec>& found) {
            showing_.stop();
            session_.glimpse().end();
            if (found) {
                take(from, *found);
            }
            settling_.start();
            emit changed();
        });
    showing_.start();
    emit changed();
    return {};
}

void Fitter::stop() {
    if (!is_busy()) {
        return;
    }
    work_.stop();
    showing_.stop();
    session_.glimpse().end();
    if (const auto best = so_far_->last()) {
        take(from_, *best);
    }
    emit changed();
}

// What was changed meanwhile is not overwritten.
void Fitter::take(const StageSpec& from, const StageSpec& found) {
    const Channel* channel = session_.channel();
    const Stage* stage = session_.stage(stage_);
    if (channel == nullptr || channel->id != channel_ || stage == nullptr
        || !(stage->spec == from)) {
        return;
    }
    const std::string id = stage_;
    session_.edit_channel(tr("Fit %1").arg(spoken_name(*stage)), [&](Channel& edited) {
        edit_stage(edited.stages, id, [&](Stage& s) { s.spec = found; });
    });
}

void Fitter::show_best_so_far() {
    const Channel* channel = session_.channel();
    const auto best = so_far_->look();
    emit changed(); // how far it has come
    if (!best || channel == nullptr || channel->id != channel_) {
        return;
    }
    Study study = session_.study();
    for (auto& one : study.channels) {
        if (one->id == channel_) {
            edit_stage(one.edit().stages, stage_, [&](Stage& s) { s.spec = *best; });
        }
    }
    const auto designed = session_.briefs().design(study, *channel_of(study, channel_));
    session_.glimpse().hold(channel_, tr("best so far"), designed.filter);
}

} // namespace syntonon
