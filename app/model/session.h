// The study being worked on: every change goes through here, with its name, and can be undone.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/chain_facts.h"
#include "app/model/curve_in_hand.h"
#include "app/model/glimpse.h"
#include "app/model/held_points.h"
#include "app/model/part_in_hand.h"
#include "app/model/plumb_line.h"
#include "app/model/roots_in_hand.h"
#include "app/model/slow_roots.h"
#include "app/model/tone_meter.h"
#include "core/study/analysis.h"
#include "core/study/runner.h"
#include "core/study/study.h"

#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace syntonon {

// What the user looks at; not part of the study, but undo brings it back to where the change was.
struct Selection {
    int channel = 0;
    std::string stage; // its id, at any depth; empty: none

    bool operator==(const Selection&) const = default;
};

class Fitter;

// Whether changes of an FIR's design leave what was before as a take (see fir_commands.h).
struct Keeping {
    bool is_on = false;
    QString gesture; // that has done so
};

class Session : public QObject {
    Q_OBJECT

public:
    explicit Session(QObject* parent = nullptr,
                     std::shared_ptr<DesignStore> store = std::make_shared<DesignStore>());
    ~Session() override;

    const Study& study() const { return study_; }
    const Selection& selection() const { return selection_; }
    // Null when the study has no channels, or nothing is selected.
    const Channel* channel() const;
    const Stage* stage() const;
    // Any stage of the selected channel, at any depth; null where there is none.
    const Stage* stage(std::string_view id) const;
    Axis axis() const; // of the selected channel
    // The selected stage where it holds chains or is a delay, else the stage that holds it; null
    // where neither is.
    const Stage* network() const;
    // Of the selected channel; null without one.
    std::shared_ptr<const ChannelAnalysis> analysis() const { return analysis_; }
    // Of the selected stage; null without one.
    const StageAnalysis* stage_analysis() const {
        return analysis_ != nullptr ? analysis_->stage(selection_.stage) : nullptr;
    }
    // Of any channel.
    std::shared_ptr<const ChannelAnalysis> analysis_of(const Channel& channel_of_study) {
        return cache_.analyse(study_, channel_of_study, view(),
                              &channel_of_study == channel() ? Judging::later : Judging::at_once);
    }
    // Whether a spec could be designed in the selected stage's place, as far as that can be known
    // at once.
    Expected<void> try_design(const StageSpec& spec) const;
    // Of the selected stage, which must be there; refused where it could not be designed.
    Expected<Working> working() const;
    // In the words of which delivery's processor chains are seen and judged, beside the design; its
    // id, or empty: as designed. Not part of the study.
    const std::string& words_view() const { return words_view_; }
    void view_words(const std::string& delivery);
    // All curves of the selected channel at one frequency.
    std::optional<ChannelPoint> point_at(double hz) const;

    // What is designed beside the window; while that goes on, the last good curves stand.
    std::vector<Runner::State> jobs() const;
    // A verdict that takes long is being found beside the window, too.
    bool is_judging() const { return judged_.has_value(); }
    void stop_jobs();
    void start_jobs_again();
    // For what is made of the whole study, exports above all.
    Briefs& briefs() { return cache_.briefs(); }

    // Starts anew with another study; the history is cleared.
    void replace_study(Study study);

    // Changes a copy of the study and makes it the current one, as one step of the history. Steps
    // in a row with the same non-empty `gesture` become one.
    using Change = std::function<void(Study&)>;
    void edit(const QString& name, const Change& change, const QString& gesture = {});
    // The same for the selected channel or stage; nothing happens without one.
    void edit_channel(const QString& name, const std::function<void(Channel&)>& change,
                      const QString& gesture = {});
    void edit_stage(const QString& name, const std::function<void(Stage&)>& change,
                    const QString& gesture = {});
    // A name for edit's `gesture` that no earlier gesture had.
    QString new_gesture();
    // The same gesture as last time while `what` stays the same and less than a second has passed:
    // for key presses and wheel clicks that belong together.
    QString continuing_gesture(const QString& what);
    // Takes back what the gesture has done so far and forgets it; false when it did nothing.
    bool cancel_gesture(const QString& gesture);

    void select_channel(int index);
    void select_stage(const std::string& id); // empty: none
    void select(const Selection& selection);
    // Takes a stage to those that are looked at together, or away from them; the selected one is
    // the first. Selecting lets them go.
    void mark_stage(const std::string& id);
    // Empty, or two and more.
    const std::set<std::string, std::less<>>& marked() const { return marked_; }

    QUndoStack& history() { return history_; }
    bool is_modified() const { return !history_.isClean() || recovered_; }
    void mark_saved() { mark_saved(study_); }
    // What has been changed since then is still to be saved.
    void mark_saved(const Study& saved);
    // The study as it was saved or opened last, as one step of the history.
    void go_back_to_saved();
    bool differs_from_saved() const { return !(study_ == saved_); }
    void mark_recovered(); // what is shown is on no disk yet

    // What the user points at; not part of the study.
    PlumbLine& plumb() { return plumb_; }
    HeldPoints& held() { return held_; }
    CurveInHand& curve_in_hand() { return curve_in_hand_; }
    Glimpse& glimpse() { return glimpse_; }
    PartInHand& part_in_hand() { return part_in_hand_; }
    RootsInHand& roots_in_hand() { return roots_in_hand_; }
    const RootsInHand& roots_in_hand() const { return roots_in_hand_; }

    Keeping& keeping() { return keeping_; }

    // How stages that are fitted stand, and fitting them.
    Fitter& fitter() { return *fitter_; }

    // A tone at the plumb line, and what is played laid over the lanes.
    ToneMeter& tone() { return *tone_; }
    LiveSpectrum& live() { return live_; }

    // Who draws roots asks here, and draws anew when more were found.
    SlowRoots& slow_roots() const { return slow_roots_; }

    // What is worked out when it is asked for, of the selected channel.
    ChainFacts& facts() { return facts_; }

signals:
    void study_changed();     // anything in the study, or another study
    void selection_changed(); // another channel or stage
    void analysis_changed();  // what the selected channel does
    void stage_added();       // by a command, and selected
    void modified_changed();
    void jobs_changed(); // designs that are made beside the window: which, and how far

private:
    friend class StudyCommand;
    void show(const Study& study, const Selection& selection);
    void keep_selection_in_range();
    void analyse();
    View view() const; // of the selected channel
    void want_designs();
    void take_designs();
    void judge_beside();

    Study study_, saved_;
    Selection selection_;
    std::set<std::string, std::less<>> marked_;
    std::string words_view_;
    std::shared_ptr<DesignStore> store_;
    AnalysisCache cache_;
    std::shared_ptr<const ChannelAnalysis> analysis_;
    QUndoStack history_;
    bool recovered_ = false;
    int gestures_ = 0;
    QString continuing_what_, continuing_name_;
    QElapsedTimer continuing_since_;
    PlumbLine plumb_;
    ToneMeter* tone_ = nullptr; // its child
    Fitter* fitter_ = nullptr;  // its child
    LiveSpectrum live_;
    HeldPoints held_;
    CurveInHand curve_in_hand_;
    RootsInHand roots_in_hand_;
    Glimpse glimpse_;
    PartInHand part_in_hand_;
    Keeping keeping_;
    ChainFacts facts_;
    mutable SlowRoots slow_roots_; // knows no more than before: it only looks sooner or later
    QTimer progress_;
    Runner runner_;                 // ends before what it hands over to
    std::optional<QString> judged_; // the channel's name
    Beside judging_{this};
};

} // namespace syntonon
