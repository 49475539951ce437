// The window: puts the panes together and says what went wrong.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk_frame.h"
#include "app/model/delivery_records.h"
#include "app/model/last_stable.h"
#include "app/model/session.h"
#include "app/model/study_files.h"

#include <QMainWindow>

namespace syntonon {

class Companion;
class DeliverDesk;
class GoalPane;
class LaneStack;
class ListenDesk;
class MeasureDesk;
struct MeasuredFiles;
class MessageBar;
class Rail;
class ShapeDesk;
class TabStrip;
class TakesPane;
class TopBar;
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
    ~MainWindow() override;

    Session& session() { return session_; }
    StudyFiles& files() { return files_; }
    LastStable& last_stable() { return last_stable_; }
    LaneStack* lanes() const; // of the Shape desk
    Rail* rail() const { return rail_; }
    TrimStrip* trim() const { return trim_; }
    VerdictBar* verdict() const { return verdict_; }
    MessageBar* message() const { return message_; }
    TopBar* top_bar() const { return top_bar_; }
    TabStrip* channel_tabs() const;
    // Of the Shape desk.
    Companion* upper() const;
    Companion* lower() const;
    GoalPane* goal_pane() const;
    TakesPane* takes_pane() const;
    VerdictPane* verdict_pane() const;
    WorkingPane* working_pane() const;

    DeskFrame* frame() const { return frame_; }
    ShapeDesk& shape() const { return *shape_; }
    // Made when first asked for.
    MeasureDesk& measure();
    ListenDesk& listen();
    DeliverDesk& deliver();
    void show_desk(Desk desk);
    // Makes the desks that were not shown yet, one by one while nothing else is to be done.
    void prepare_desks();
    // The lanes of the shown desk; the Shape desk's where it has none.
    LaneStack* shown_lanes();

    // False when it could not be opened; the reason is in the message bar.
    bool open_study(const QString& path);
    // Beside the window; how it went is in the message bar.
    void save();
    void save_as();
    // Waits for what is being written of the study and its deliveries.
    void finish_writing();
    // Asks what to do with unsaved work; false: stay.
    bool may_discard();
    // One study, the newest; a list when there are more.
    void offer_recovery();
    void show_recovery_list();
    // Takes a lost study up in place of the present one.
    void restore(const RecoveredWork& work);
    void show_history();
    // The program has to end: keeps unsaved work and the arrangement, asks nothing.
    void end_on_request();
    // All windows, and the program with them.
    static void end_all_on_request();
    void say_problem(const Problem& problem);
    void show_goal();
    void show_verdict();
    void show_takes();
    void show_working();
    void show_shape_page(int page);
    void rename_current_goal();
    // On the Deliver desk.
    void export_coefficients();
    void import_target();
    void export_target();
    // One lane, or all of them, as a picture or as numbers.
    void ask_save_lanes(std::optional<Lane> lane);
    // One page about the selected channel.
    void save_report();
    // A correction for every measured channel, ready to be fitted.
    void correct_measured_channels();
    void rename_selected_stage();
    void rename_selected_channel();

    void ask_open();
    void ask_new();
    void ask_import();
    void open_demo();
    void import_curve(const QString& path);
    void import_measured(const MeasuredFiles& files);
    void ask_add_stage_from_file();
    void paste_stage();
    void add_stage_from(const QString& path);
    void say_what_came(const Expected<std::optional<QString>>& words);
    void ask_save_stage();

protected:
    void closeEvent(QCloseEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void save_to(const QString& path);
    void lay_out();
    void add_desks();
    DeskParts make_measure();
    void connect_device();
    void connect_shape();
    void connect_start_page();
    void fit_screen();
    void show_title();
    void show_what_is_there();
    QJsonObject arrangement() const;
    void arrange(const QJsonObject& arrangement);
    static QJsonObject kept_arrangement(const QString& path);
    void remember_arrangement();

    Session session_;
    StudyFiles files_;
    DeliveryRecords records_;
    LastStable last_stable_{session_};
    bool ends_on_request_ = false;
    QString arranged_path_; // whose arrangement is shown
    TopBar* top_bar_;
    MessageBar* message_;
    DeskFrame* frame_;
    Rail* rail_;
    ShapeDesk* shape_;
    MeasureDesk* measure_ = nullptr;
    ListenDesk* listen_ = nullptr;
    DeliverDesk* deliver_ = nullptr;
    TrimStrip* trim_;
    VerdictBar* verdict_;
};

} // namespace syntonon
