// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/session.h"

#include "app/model/fitter.h"

#include "core/design/delay.h"
#include "core/study/crossovers.h"

#include <QUndoCommand>
#include <algorithm>

namespace syntonon {

// Whole studies before and after: they share everything that did not change.
class StudyCommand : public QUndoCommand {
public:
    StudyCommand(Session& session, const QString& name, Study after, QString gesture)
        : QUndoCommand(name), session_(session), before_(session.study_), after_(std::move(after)),
          before_selection_(session.selection_), after_selection_(session.selection_),
          gesture_(std::move(gesture)) {}

    void undo() override {
        session_.show(before_, before_selection_);
        setObsolete(cancelled_);
    }
    void redo() override { session_.show(after_, after_selection_); }
    int id() const override { return gesture_.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand* next) override {
        const auto* other = static_cast<const StudyCommand*>(next);
        if (other->gesture_ != gesture_) {
            return false;
        }
        after_ = other->after_;
        return true;
    }
    const QString& gesture() const { return gesture_; }
    // The next undo forgets the command, so that it cannot be done again.
    void cancel() { cancelled_ = true; }

private:
    Session& session_;
    Study before_, after_;
    Selection before_selection_, after_selection_;
    QString gesture_;
    bool cancelled_ = false;
};

// A history that is destroyed with unsaved steps says that it is clean now, to windows that are
// half gone.
Session::~Session() {
    disconnect(&history_, nullptr, this, nullptr);
}

Session::Session(QObject* parent, std::shared_ptr<DesignStore> store)
    : QObject(parent), study_(empty_study()), saved_(study_), store_(std::move(store)),
      cache_(store_),
      runner_(store_, [this] { QMetaObject::invokeMethod(this, &Session::take_designs); }) {
    tone_ = new ToneMeter(*this);
    fitter_ = new Fitter(*this);
    constexpr int progress_ms = 100;
    history_.setUndoLimit(5000);
    progress_.setInterval(progress_ms);
    connect(&progress_, &QTimer::timeout, this, &Session::jobs_changed);
    connect(&history_, &QUndoStack::cleanChanged, this, &Session::modified_changed);
    analyse();
}

const Channel* Session::channel() const {
    const auto i = static_cast<std::size_t>(selection_.channel);
    return selection_.channel >= 0 && i < study_.channels.size() ? &*study_.channels[i] : nullptr;
}

const Stage* Session::stage(std::string_view id) const {
    return channel() != nullptr ? find_stage(channel()->stages, id) : nullptr;
}

const Stage* Session::stage() const {
    const Channel* current = channel();
    return current != nullptr ? find_stage(current->stages, selection_.stage) : nullptr;
}

const Stage* Session::network() const {
    const Stage* selected = stage();
    if (selected == nullptr || layout_of(*selected) || kind_of(selected->spec) == DelaySpec::kind) {
        return selected;
    }
    const auto slot = slot_of(channel()->stages, selected->id);
    return slot ? find_stage(channel()->stages, slot->holder) : nullptr;
}

Axis Session::axis() const {
    const Channel* selected = channel();
    return selected != nullptr ? axis_of(study_, *selected) : Axis(study_.sample_rate_hz);
}

Expected<void> Session::try_design(const StageSpec& spec) const {
    const StageAnalysis* now = stage_analysis();
    const Brief brief = now != nullptr && now->brief != nullptr ? *now->brief : brief_at(axis());
    Stage alone;
    alone.id = selection_.stage;
    alone.spec = spec;
    const DesignedChain chain = design_chain({alone}, brief, *store_);
    const DesignedStage& tried = chain.stages.at(alone.id);
    return tried.filter || tried.is_waiting ? Expected<void>()
                                            : tl::unexpected(tried.filter.error());
}

Expected<Working> Session::working() const {
    const StageAnalysis* stage = stage_analysis();
    if (stage->is_waiting) {
        return tl::unexpected(being_designed(spoken_name_of(*this->stage())));
    }
    if (!stage->filter) {
        return tl::unexpected(stage->filter.error());
    }
    return stage->working();
}

std::optional<ChannelPoint> Session::point_at(double hz) const {
    return analysis_ != nullptr ? std::optional(syntonon::point_at(*analysis_, hz)) : std::nullopt;
}

void Session::replace_study(Study study) {
    study_ = std::move(study);
    saved_ = study_;
    selection_ = {0, {}};
    cache_ = AnalysisCache(store_);
    recovered_ = false;
    history_.clear();
    analyse();
    emit study_changed();
    emit selection_changed();
    emit analysis_changed();
    emit modified_changed();
    plumb_.take_away();
}

void Session::edit(const QString& name, const Change& change, const QString& gesture) {
    Study after = study_;
    change(after);
    share_crossovers(study_, after);
    if (!(after == study_)) {
        history_.push(new StudyCommand(*this, name, std::move(after), gesture));
    }
}

void Session::edit_channel(const QString& name, const std::function<void(Channel&)>& change,
                           const QString& gesture) {
    if (channel() != nullptr) {
        edit(
            name,
            [&](Study& study) {
                change(study.channels[static_cast<std::size_t>(selection_.channel)].edit());
            },
            gesture);
    }
}

void Session::edit_stage(const QString& name, const std::function<void(Stage&)>& change,
                         const QString& gesture) {
    if (stage() != nullptr) {
        edit_channel(
            name, [&](Channel& c) { syntonon::edit_stage(c.stages, selection_.stage, change); },
            gesture);
    }
}

QString Session::new_gesture() {
    return QStringLiteral("gesture %1").arg(++gestures_);
}

QString Session::continuing_gesture(const QString& what) {
    constexpr qint64 pause_ms = 1000;
    if (what != continuing_what_ || !continuing_since_.isValid()
        || continuing_since_.elapsed() > pause_ms) {
        continuing_what_ = what;
        continuing_name_ = new_gesture();
    }
    continuing_since_.restart();
    return continuing_name_;
}

bool Session::cancel_gesture(const QString& gesture) {
    if (history_.index() == 0) {
        return false;
    }
    const auto* last = static_cast<const StudyCommand*>(history_.command(history_.index() - 1));
    if (last->gesture() != gesture || gesture.isEmpty()) {
        return false;
    }
    // The stack hands its commands out as const; this one is ours.
    const_cast<StudyCommand*>(last)->cancel();
    history_.undo();
    return true;
}

void Session::show(const Study& study, const Selection& selection) {
    study_ = study;
    const Selection before = selection_;
    selection_ = selection;
    keep_selection_in_range();
    analyse();
    emit study_changed();
    if (!(selection_ == before)) {
        emit selection_changed();
    }
    emit analysis_changed();
    emit modified_changed();
}

void Session::keep_selection_in_range() {
    const int channels = static_cast<int>(study_.channels.size());
    selection_.channel = std::clamp(selection_.channel, 0, std::max(0, channels - 1));
    if (stage() == nullptr) {
        selection_.stage.clear();
    }
    std::erase_if(marked_, [&](const std::string& id) {
        return channel() == nullptr || find_stage(channel()->stages, id) == nullptr;
    });
    if (marked_.size() < 2) {
        marked_.clear();
    }
}

View Session::view() const {
    return {{}, delivery_of(study_, words_view_) != nullptr ? words_view_ : std::string()};
}

void Session::view_words(const std::string& delivery) {
    if (delivery == words_view_) {
        return;
    }
    words_view_ = delivery;
    analyse();
    emit analysis_changed();
}

void Session::analyse() {
    const Channel* current = channel();
    analysis_ =
        current != nullptr ? cache_.analyse(study_, *current, view(), Judging::later) : nullptr;
    current != nullptr ? facts_.show(analysis_, current->stages) : facts_.clear();
    const Goal* goal = current != nullptr ? goal_of(study_, *current) : nullptr;
    const auto points = goal != nullptr ? static_cast<int>(goal->target.points.size()) : 0;
    held_.keep_below(points);
    want_designs();
    judge_beside();
}

// One at a time: what has been overtaken meanwhile is found out when it is done.
void Session::judge_beside() {
    if (analysis_ == nullptr || analysis_->judging == nullptr || judged_) {
        return;
    }
    judged_ = QString::fromStdString(channel()->name);
    judging_.begin([job = analysis_->judging](const Watch&) { return run(*job); },
                   [this, job = analysis_->judging,
                    key = ChannelView{channel()->id, view()}](const Verdict& verdict) {
                       judged_.reset();
                       cache_.take_verdict(key, *job, verdict);
                       take_designs();
                   });
    emit jobs_changed();
}

std::vector<Runner::State> Session::jobs() const {
    auto states = runner_.states();
    if (judged_) {
        states.push_back({tr("%1: verdict").arg(*judged_).toStdString(), 0, false});
    }
    return states;
}

// Those of the selected channel first, then what other channels need.
void Session::want_designs() {
    std::vector<DesignJob> jobs;
    if (analysis_ != nullptr) {
        add_jobs(analysis_->jobs, jobs);
    }
    Briefs& all = briefs();
    for (const auto& other : study_.channels) {
        const Chain& stages = other->stages;
        // Most have nothing that could take long.
        if (&*other != channel()
            && (!is_quick(stages, *store_) || needs_of(stages, *store_, Counting::all).wished)) {
            add_jobs(jobs_of(study_, *other, {}, all), jobs);
        }
    }
    const bool any = !jobs.empty();
    runner_.want(std::move(jobs));
    if (any != progress_.isActive()) {
        any ? progress_.start() : progress_.stop();
        emit jobs_changed();
    }
}

void Session::take_designs() {
    const auto before = analysis_;
    analyse();
    emit jobs_changed();
    if (analysis_ != before) {
        emit analysis_changed();
    }
}

void Session::stop_jobs() {
    runner_.stop();
    emit jobs_changed();
}

void Session::start_jobs_again() {
    runner_.start_again();
    emit jobs_changed();
}

void Session::select(const Selection& selection) {
    const Selection before = selection_;
    selection_ = selection;
    const bool let_go = !marked_.empty();
    marked_.clear();
    keep_selection_in_range();
    if (selection_ == before && !let_go) {
        return;
    }
    if (selection_.channel != before.channel) {
        held_.hold({});
        roots_in_hand_.hold({}); // ids are unique in a channel only
        analyse();
        emit selection_changed();
        emit analysis_changed();
    } else {
        emit selection_changed();
    }
}

void Session::mark_stage(const std::string& id) {
    auto marked = marked_;
    if (marked.empty() && !selection_.stage.empty()) {
        marked.insert(selection_.stage);
    }
    const bool added = marked.insert(id).second;
    if (!added && marked.size() > 1) {
        marked.erase(id);
    }
    selection_.stage = added ? id : *marked.begin();
    marked_ = std::move(marked);
    keep_selection_in_range();
    emit selection_changed();
}

void Session::select_channel(int index) {
    select({index, {}});
}

void Session::select_stage(const std::string& id) {
    select({selection_.channel, id});
}

void Session::go_back_to_saved() {
    edit(tr("Back to as saved"), [this](Study& study) { study = saved_; });
}

void Session::mark_saved(const Study& saved) {
    recovered_ = false;
    saved_ = saved;
    if (differs_from_saved()) {
        history_.resetClean();
    } else {
        history_.setClean();
    }
    emit modified_changed();
}

void Session::mark_recovered() {
    recovered_ = true;
    emit modified_changed();
}

} // namespace syntonon
