// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"

#include "app/desks/deliver_desk.h"
#include "app/desks/desk_frame.h"
#include "app/desks/listen_desk.h"
#include "app/desks/measure_desk.h"
#include "app/desks/shape_desk.h"
#include "app/menus/menus.h"
#include "app/model/device_work.h"
#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/model/study_settings.h"
#include "app/panes/companion.h"
#include "app/panes/goal_pane.h"
#include "app/panes/measure/positions_pane.h"
#include "app/panes/measure/sweep_page.h"
#include "app/panes/rail.h"
#include "app/panes/start_page.h"
#include "app/panes/sweep_bar.h"
#include "app/panes/trim/new_stages.h"
#include "app/panes/trim_strip.h"
#include "app/panes/verdict_bar.h"
#include "app/panes/ways_bar.h"
#include "app/plot/lane_arrangement.h"
#include "app/plot/lane_stack.h"
#include "app/top_bar.h"
#include "app/tour/tour.h"
#include "app/widgets/message_bar.h"
#include "app/widgets/theme.h"

#include <QApplication>
#include <QFileInfo>
#include <QMenu>
#include <QPushButton>
#include <QScreen>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

constexpr auto arrangement_name = "window";

// Nothing to draw, judge or hand over.
bool is_bare(const Study& study) {
    return study.curves.empty() && study.goals.empty() && study.deliveries.empty()
           && std::ranges::all_of(study.channels,
                                  [](const auto& channel) { return channel->stages.empty(); });
}

} // namespace

MainWindow::MainWindow(std::shared_ptr<DesignStore> store)
    : session_(nullptr, std::move(store)), files_(session_), top_bar_(new TopBar(session_)),
      message_(new MessageBar), frame_(new DeskFrame), rail_(new Rail(session_)),
      shape_(new ShapeDesk(session_, rail_, this)), trim_(new TrimStrip(session_)),
      verdict_(new VerdictBar(session_)) {
    setAcceptDrops(true);
    lay_out();
    connect(&session_, &Session::study_changed, this, &MainWindow::show_title);
    connect(&session_, &Session::study_changed, this, &MainWindow::show_what_is_there);
    connect(&session_, &Session::modified_changed, this, &MainWindow::show_title);
    connect(&files_, &StudyFiles::path_changed, this, &MainWindow::show_title);
    connect(&files_, &StudyFiles::recovery_failed, this, [this](const QString& reason) {
        message_->show_message(MessageKind::problem,
                               tr("Your work cannot be kept for recovery: %1").arg(reason));
    });
    connect(top_bar_, &TopBar::rename_asked_for, this, &MainWindow::rename_selected_channel);
    connect(top_bar_, &TopBar::desk_chosen, this, &MainWindow::show_desk);
    connect(top_bar_, &TopBar::channel_menu_asked_for, this, [this](const QPoint& at) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        fill_channel_actions(*menu, *this);
        menu->popup(at);
    });
    const auto say = [this](const QString& text) {
        message_->show_message(MessageKind::problem, text);
    };
    connect(shape_->sweep_bar(), &SweepBar::problem_found, this, say);
    connect(shape_->ways_bar(), &WaysBar::problem_found, this, say);
    connect(rail_, &Rail::rename_asked_for, this, &MainWindow::rename_selected_stage);
    connect(verdict_, &VerdictBar::finding_chosen, this, [this](const Finding& finding) {
        show_desk(Desk::shape);
        lanes()->magnify_finding(finding);
    });
    connect_shape();
    connect_start_page();
    add_desks();
    fill_menus(*top_bar_->menus(), *this);
    show_desk(Desk::shape);
    show_what_is_there();
    show_title();
}

// Panes end their work when they are hidden, and tell the session. The base class would hide what a
// signal ended in sight only when the session is gone.
MainWindow::~MainWindow() {
    hide();
}

void MainWindow::lay_out() {
    setMenuWidget(top_bar_);
    auto* centre = new QWidget;
    auto* column = new QVBoxLayout(centre);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(message_);
    column->addWidget(frame_, 1);
    column->addWidget(trim_);
    column->addWidget(verdict_);
    setCentralWidget(centre);
    fit_screen();
}

// 1280 by 800 with the desktop's title bar, or what the screen has.
void MainWindow::fit_screen() {
    constexpr int wished_width = 1280, wished_height = 800, title_bar = 38;
    const QScreen* here = screen();
    if (here == nullptr || QGuiApplication::platformName() == "offscreen") {
        resize(wished_width, wished_height);
        return;
    }
    const QRect room = here->availableGeometry();
    resize(std::min(wished_width, room.width()),
           std::min(wished_height, room.height() - title_bar));
}

// The window manager's frame is known only now; what it takes must not push the verdict bar off
// the screen.
void MainWindow::showEvent(QShowEvent* event) {
    QMainWindow::showEvent(event);
    QTimer::singleShot(0, this, [this] {
        const bool on_desktop = QGuiApplication::platformName() != "offscreen";
        if (isMaximized() || isFullScreen() || screen() == nullptr || !on_desktop) {
            return;
        }
        const QRect room = screen()->availableGeometry(), outer = frameGeometry();
        const QSize frame = outer.size() - size();
        const QSize fitting = size().boundedTo(room.size() - frame);
        if (fitting != size()) {
            resize(fitting);
        }
        if (outer.bottom() > room.bottom() || outer.right() > room.right()
            || outer.top() < room.top() || outer.left() < room.left()) {
            const QSize now = size() + frame;
            move(std::clamp(outer.left(), room.left(),
                            std::max(room.left(), room.right() + 1 - now.width())),
                 std::clamp(outer.top(), room.top(),
                            std::max(room.top(), room.bottom() + 1 - now.height())));
        }
    });
}

void MainWindow::connect_shape() {
    connect(shape_, &ShapeDesk::goal_pane_made, this, [this](GoalPane* pane) {
        connect(pane, &GoalPane::import_asked_for, this, &MainWindow::ask_import);
        connect(pane, &GoalPane::goal_menu_asked_for, this, [this](const QPoint& at) {
            auto* menu = new QMenu(this);
            menu->setAttribute(Qt::WA_DeleteOnClose);
            fill_goal_actions(*menu, *this);
            menu->popup(at);
        });
    });
    connect(lanes(), &LaneStack::save_asked_for, this, &MainWindow::ask_save_lanes);
}

void MainWindow::connect_start_page() {
    StartPage* start = shape_->start_page();
    connect(start, &StartPage::demo_asked_for, this, &MainWindow::open_demo);
    connect(start, &StartPage::tour_asked_for, this, &start_tour_beside);
    connect(start, &StartPage::import_asked_for, this, &MainWindow::ask_import);
    connect(start, &StartPage::target_asked_for, this, [this] {
        add_goal(session_);
        show_goal();
    });
    connect(start, &StartPage::stage_asked_for, this, [this] {
        add_stage(session_, new_stages().front().spec);
        trim_->focus_first_field();
    });
    connect(start, &StartPage::study_asked_for, this, [this](const QString& path) {
        if (may_discard()) {
            open_study(path);
        }
    });
}

void MainWindow::connect_device() {
    DeviceWork* device = &deliver_->device_work();
    connect(device, &DeviceWork::live_changed, this,
            [this, device] { top_bar_->show_live(device->live_name(), device->live_problem()); });
    connect(device, &DeviceWork::live_ended, this,
            [this](const QString& why) { message_->show_message(MessageKind::problem, why); });
    connect(top_bar_, &TopBar::live_end_asked_for, device,
            [device] { device->set_live(device->live(), false); });
}

void MainWindow::add_desks() {
    frame_->add_desk(Desk::measure, [this] { return make_measure(); });
    frame_->add_desk(Desk::shape, [this] { return shape_->parts(); });
    frame_->add_desk(Desk::listen, [this] {
        const auto folder = [this] {
            return std::filesystem::path(files_.path().toStdString()).parent_path();
        };
        listen_ = new ListenDesk(session_, rail_, folder, this);
        return listen_->parts();
    });
    frame_->add_desk(Desk::deliver, [this] {
        deliver_ = new DeliverDesk(session_, records_, this);
        connect_device();
        return deliver_->parts();
    });
    connect(frame_, &DeskFrame::desk_shown, this, [this](Desk desk) {
        top_bar_->show_desk(desk);
        trim_->setVisible(frame_->parts().trims);
        if (deliver_ != nullptr) {
            deliver_->set_active(desk == Desk::deliver);
        }
    });
}

DeskParts MainWindow::make_measure() {
    measure_ = new MeasureDesk(session_, this);
    connect(measure_->positions(), &PositionsPane::import_asked_for, this, &MainWindow::ask_import);
    connect(measure_->sweep_page(), &SweepPage::import_asked_for, this, &MainWindow::ask_import);
    connect(measure_->sweep_page(), &SweepPage::recorded, this, &MainWindow::import_measured);
    connect(measure_->sweep_page(), &SweepPage::about_to_play, this, [this] {
        if (listen_ != nullptr) {
            listen_->listening().play(false);
        }
    });
    connect(measure_->lanes(), &LaneStack::save_asked_for, this, &MainWindow::ask_save_lanes);
    syntonon::arrange(*measure_->lanes(),
                      kept_arrangement(files_.path())["measure_lanes"].toObject());
    return measure_->parts();
}

MeasureDesk& MainWindow::measure() {
    frame_->make_desk(Desk::measure);
    return *measure_;
}

ListenDesk& MainWindow::listen() {
    frame_->make_desk(Desk::listen);
    return *listen_;
}

DeliverDesk& MainWindow::deliver() {
    frame_->make_desk(Desk::deliver);
    return *deliver_;
}

void MainWindow::show_desk(Desk desk) {
    frame_->show_desk(desk);
}

void MainWindow::prepare_desks() {
    shape_->goal_pane();
    for (const Desk desk : all_desks) {
        if (!frame_->has_desk(desk)) {
            frame_->make_desk(desk);
            if (desk == Desk::measure) {
                measure_->prepare();
            } else if (desk == Desk::deliver) {
                deliver_->prepare();
            }
            // A timer without a delay waits for the events that are there already.
            QTimer::singleShot(0, this, &MainWindow::prepare_desks);
            return;
        }
    }
}

LaneStack* MainWindow::lanes() const {
    return shape_->lanes();
}

LaneStack* MainWindow::shown_lanes() {
    return frame_->desk() == Desk::measure ? measure().lanes() : lanes();
}

TabStrip* MainWindow::channel_tabs() const {
    return top_bar_->channels();
}

Companion* MainWindow::upper() const {
    return shape_->upper();
}

Companion* MainWindow::lower() const {
    return shape_->lower();
}

GoalPane* MainWindow::goal_pane() const {
    return shape_->goal_pane();
}

TakesPane* MainWindow::takes_pane() const {
    return shape_->takes_pane();
}

VerdictPane* MainWindow::verdict_pane() const {
    return shape_->verdict_pane();
}

WorkingPane* MainWindow::working_pane() const {
    return shape_->working_pane();
}

void MainWindow::show_title() {
    const QString name = QString::fromStdString(session_.study().name);
    const QString mark = session_.is_modified() ? QStringLiteral(" •") : QString();
    top_bar_->show_study_name(name + mark,
                              files_.path().isEmpty() ? tr("Not saved yet") : files_.path());
    const QString file =
        files_.path().isEmpty() ? tr("not saved yet") : QFileInfo(files_.path()).fileName();
    setWindowTitle(QStringLiteral("%1%2 (%3) – Syntonon").arg(name, mark, file));
}

void MainWindow::show_what_is_there() {
    const bool bare = files_.path().isEmpty() && is_bare(session_.study());
    if (bare && !shape_->shows_start_page()) {
        shape_->start_page()->show_recent(StudyFiles::recent());
    }
    if (bare == shape_->shows_start_page()) {
        return;
    }
    // The keyboard goes where the eyes go, unless it is at work elsewhere.
    const QWidget* had = focusWidget();
    StartPage* start = shape_->start_page();
    const bool follows = had == nullptr || had == lanes() || start->isAncestorOf(had);
    shape_->show_start_page(bare);
    if (follows) {
        bare ? start->demo_button()->setFocus() : lanes()->setFocus();
    }
}

QJsonObject MainWindow::arrangement() const {
    QJsonObject all{{"desks", frame_->arrangement()},
                    {"lanes", arrangement_of(*lanes())},
                    {"theme", theme().name == ThemeName::night ? "night" : "paper"},
                    {"place", QString::fromLatin1(saveGeometry().toBase64())}};
    all["measure_lanes"] = measure_ != nullptr
                               ? arrangement_of(*measure_->lanes())
                               : kept_arrangement(arranged_path_)["measure_lanes"].toObject();
    return all;
}

void MainWindow::arrange(const QJsonObject& arrangement) {
    if (arrangement.isEmpty()) {
        return;
    }
    restoreGeometry(QByteArray::fromBase64(arrangement["place"].toString().toLatin1()));
    const ThemeName wanted =
        arrangement["theme"].toString() == "night" ? ThemeName::night : ThemeName::paper;
    if (wanted != theme().name) { // to style the whole window anew takes as long as to start it
        use_theme(*qApp, wanted);
    }
    frame_->arrange(arrangement["desks"].toObject());
    syntonon::arrange(*lanes(), arrangement["lanes"].toObject());
    if (measure_ != nullptr) {
        syntonon::arrange(*measure_->lanes(), arrangement["measure_lanes"].toObject());
    }
}

QJsonObject MainWindow::kept_arrangement(const QString& path) {
    return study_settings(path, arrangement_name);
}

void MainWindow::remember_arrangement() {
    keep_study_settings(arranged_path_, arrangement_name, arrangement());
}

void MainWindow::say_problem(const Problem& problem) {
    message_->show_message(MessageKind::problem, QString::fromStdString(to_text(problem)));
}

void MainWindow::show_shape_page(int page) {
    show_desk(Desk::shape);
    // There is no page of a network where none is selected.
    page == ShapeDesk::network ? upper()->show_page_if_there(page) : upper()->show_page(page);
}

void MainWindow::show_goal() {
    show_shape_page(ShapeDesk::goal);
}

void MainWindow::show_takes() {
    show_shape_page(ShapeDesk::takes);
}

void MainWindow::show_verdict() {
    show_shape_page(ShapeDesk::verdict);
}

void MainWindow::show_working() {
    show_shape_page(ShapeDesk::working);
}

} // namespace syntonon
