// The study being worked on: every change goes through here, with its name, and can be undone.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/analysis.h"
#include "core/study/study.h"

#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <QUndoStack>
#include <functional>
#include <memory>
#include <optional>
#include <set>
#include <string>

namespace syntonon {

// What the user looks at; not part of the study, but undo brings it back to where the change was.
struct Selection {
    int channel = 0;
    std::string stage; // its id, at any depth; empty: none

    bool operator==(const Selection&) const = default;
};

class Session : public QObject {
    Q_OBJECT

public:
    explicit Session(QObject* parent = nullptr,
                     std::shared_ptr<DesignStore> store = std::make_shared<DesignStore>());

    const Study& study() const { return study_; }
    const Selection& selection() const { return selection_; }
    // Null when the study has no channels, or nothing is selected.
    const Channel* channel() const;
    const Stage* stage() const;
    // Of the selected channel; null without one.
    std::shared_ptr<const ChannelAnalysis> analysis() const { return analysis_; }
    // Of the selected stage; null without one.
    const StageAnalysis* stage_analysis() const {
        return analysis_ != nullptr ? analysis_->stage(selection_.stage) : nullptr;
    }
    // Of any channel.
    std::shared_ptr<const ChannelAnalysis> analysis_of(const Channel& channel) {
        return cache_.analyse(study_, channel);
    }
    // Whether a spec could be designed in the selected stage's place.
    Expected<Filter> try_design(const StageSpec& spec) const;
    // Of the selected stage, which must be there; refused where it could not be designed.
    Expected<Working> working() const;
    // All curves of the selected channel at one frequency.
    std::optional<ChannelPoint> point_at(double hz);

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

    QUndoStack& history() { return history_; }
    bool is_modified() const { return !history_.isClean() || recovered_; }
    void mark_saved();
    void mark_recovered(); // what is shown is on no disk yet

    // The plumb line's frequency, if it is on the lanes, and whether it stays when the pointer
    // leaves.
    std::optional<double> plumb_hz() const { return plumb_hz_; }
    bool plumb_is_pinned() const { return plumb_pinned_; }
    void set_plumb(std::optional<double> hz);
    void pin_plumb(bool pinned);
    // A second line, from which the first one's differences are read. It goes when the first is no
    // longer pinned.
    std::optional<double> second_plumb_hz() const { return second_plumb_hz_; }
    void set_second_plumb(std::optional<double> hz);

    // The target points that are held, by index; not part of the study either.
    const std::set<int>& held_points() const { return held_points_; }
    void hold_points(std::set<int> points);

signals:
    void study_changed();     // anything in the study, or another study
    void selection_changed(); // another channel or stage
    void analysis_changed();  // what the selected channel does
    void modified_changed();
    void plumb_changed();
    void held_points_changed();

private:
    friend class StudyCommand;
    void show(const Study& study, const Selection& selection);
    void keep_selection_in_range();
    void analyse();

    Study study_;
    Selection selection_;
    std::shared_ptr<DesignStore> store_;
    AnalysisCache cache_;
    std::shared_ptr<const ChannelAnalysis> analysis_;
    QUndoStack history_;
    bool recovered_ = false;
    int gestures_ = 0;
    QString continuing_what_, continuing_name_;
    QElapsedTimer continuing_since_;
    std::optional<double> plumb_hz_;
    bool plumb_pinned_ = false;
    std::optional<double> second_plumb_hz_;
    std::set<int> held_points_;
};

} // namespace syntonon
