// The window: puts the panes together and says what went wrong.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/model/study_files.h"

#include <QMainWindow>

class QLabel;
class QToolButton;

namespace syntonon {

class Companion;
class GoalPane;
class LaneStack;
class MessageBar;
class Rail;
class TabStrip;
class TakesPane;
class TrimStrip;
class VerdictBar;
class VerdictPane;
class WorkingPane;
enum class Lane;

class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    // Windows may share a store of designs.
    explicit MainWindow(std::shared_ptr<DesignStore> store = std::make_shared<DesignStore>());

    Session& session() { return session_; }
    StudyFiles& files() { return files_; }
    LaneStack* lanes() const { return lanes_; }
    Rail* rail() const { return rail_; }
    TrimStrip* trim() const { return trim_; }
    VerdictBar* verdict() const { return verdict_; }
    MessageBar* message() const { return message_; }
    TabStrip* channel_tabs() const { return channel_tabs_; }
    Companion* upper() const { return upper_; }
    Companion* lower() const { return lower_; }
    GoalPane* goal_pane() const { return goal_pane_; }
    TakesPane* takes_pane() const { return takes_pane_; }
    VerdictPane* verdict_pane() const { return verdict_pane_; }
    WorkingPane* working_pane() const { return working_pane_; }

    // False when it could not be opened; the reason is in the message bar.
    bool open_study(const QString& path);
    bool save();
    bool save_as();
    // Asks what to do with unsaved work; false: stay.
    bool may_discard();
    void offer_recovery();
    void say_problem(const Problem& problem);
    void show_goal();
    void show_verdict();
    void show_takes();
    void show_working();
    void rename_current_goal();
    void ask_import_target();
    void ask_export_target();
    // One lane, or all of them, as a picture or as numbers.
    void ask_save_lanes(std::optional<Lane> lane);
    void rename_selected_stage();
    void rename_selected_channel();

    void ask_open();
    void ask_new();
    void ask_import();
    void ask_export();
    void import_curve(const QString& path);

protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    QWidget* build_top_bar();
    QWidget* build_middle();
    void show_title();
    void show_channels();
    void fill_sample_rates();

    Session session_;
    StudyFiles files_;
    TabStrip* channel_tabs_;
    QLabel* study_name_;
    QToolButton* sample_rate_;
    MessageBar* message_;
    Rail* rail_;
    LaneStack* lanes_;
    Companion *upper_, *lower_;
    GoalPane* goal_pane_;
    TakesPane* takes_pane_;
    VerdictPane* verdict_pane_;
    WorkingPane* working_pane_;
    TrimStrip* trim_;
    VerdictBar* verdict_;
};

} // namespace syntonon
