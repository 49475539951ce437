// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"

#include "app/desks/deliver_desk.h"
#include "app/desks/desk_frame.h"
#include "app/desks/listen_desk.h"
#include "app/desks/measure_desk.h"
#include "app/desks/shape_desk.h"
#include "app/dialogs/history_dialog.h"
#include "app/dialogs/import_dialog.h"
#include "app/dialogs/recovery_dialog.h"
#include "app/dialogs/stage_in.h"
#include "app/dialogs/stage_out_dialog.h"
#include "app/dialogs/target_files.h"
#include "app/menus/menus.h"
#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/model/study_settings.h"
#include "app/panes/companion.h"
#include "app/panes/goal_pane.h"
#include "app/panes/measure/positions_pane.h"
#include "app/panes/rail.h"
#include "app/panes/start_page.h"
#include "app/panes/sweep_bar.h"
#include "app/panes/trim/new_stages.h"
#include "app/panes/trim_strip.h"
#include "app/panes/verdict_bar.h"
#include "app/panes/ways_bar.h"
#include "app/plot/lane_arrangement.h"
#include "app/plot/lane_picture.h"
#include "app/plot/lane_stack.h"
#include "app/top_bar.h"
#include "app/widgets/message_bar.h"
#include "app/widgets/theme.h"
#include "core/exchange/deliver.h"
#include "core/study/problems.h"
#include "core/study/stage_file.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QScreen>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <iterator>

namespace syntonon {
namespace {

constexpr auto arrangement_name = "window";

QString study_filter() {
    return QObject::tr("Studies (*.syntonon);;All files (*)");
}

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

void MainWindow::add_desks() {
    frame_->add_desk(Desk::measure, [this] { return make_measure(); });
    frame_->add_desk(Desk::shape, [this] { return shape_->parts(); });
    frame_->add_desk(Desk::listen, [this] {
        listen_ = new ListenDesk(session_, rail_, this);
        return listen_->parts();
    });
    frame_->add_desk(Desk::deliver, [this] {
        deliver_ = new DeliverDesk(session_, records_, this);
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
    connect(measure_->lanes(), &LaneStack::save_asked_for, this, &MainWindow::ask_save_lanes);
    syntonon::arrange(*measure_->lanes(),
                      study_settings(files_.path(), arrangement_name)["measure_lanes"].toObject());
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
    all["measure_lanes"] =
        measure_ != nullptr
            ? arrangement_of(*measure_->lanes())
            : study_settings(arranged_path_, arrangement_name)["measure_lanes"].toObject();
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

void MainWindow::remember_arrangement() {
    keep_study_settings(arranged_path_, arrangement_name, arrangement());
}

void MainWindow::say_problem(const Problem& problem) {
    message_->show_message(MessageKind::problem, QString::fromStdString(to_text(problem)));
}

bool MainWindow::open_study(const QString& path) {
    remember_arrangement();
    const auto opened = files_.open(path);
    if (!opened) {
        say_problem(opened.error());
        return false;
    }
    arranged_path_ = files_.path();
    records_.use_study(arranged_path_, false);
    arrange(study_settings(arranged_path_, arrangement_name));
    auto problems = problems_of(session_.study(), session_.briefs());
    std::ranges::move(file_name_clashes(session_.study()), std::back_inserter(problems));
    if (!problems.empty()) {
        const QString more =
            problems.size() > 1 ? tr(" (and %1 more)").arg(problems.size() - 1) : QString();
        message_->show_message(MessageKind::problem,
                               QString::fromStdString(to_text(problems.front())) + more);
    } else if (!opened->empty()) {
        const QString more =
            opened->size() > 1 ? tr(" (and %1 more)").arg(opened->size() - 1) : QString();
        message_->show_message(MessageKind::note, QString::fromStdString(opened->front()) + more);
    } else {
        message_->hide();
    }
    return true;
}

bool MainWindow::save() {
    if (files_.path().isEmpty()) {
        return save_as();
    }
    if (const auto saved = files_.save_as(files_.path()); !saved) {
        message_->show_message(MessageKind::problem, QString::fromStdString(to_text(saved.error())),
                               {{tr("Save as…"), [this] { save_as(); }}, {tr("Close"), {}}});
        return false;
    }
    remember_arrangement();
    return true;
}

bool MainWindow::save_as() {
    const QString proposal = files_.path().isEmpty()
                                 ? QString::fromStdString(session_.study().name) + ".syntonon"
                                 : files_.path();
    QString path =
        QFileDialog::getSaveFileName(this, tr("Save the study"), proposal, study_filter());
    if (path.isEmpty()) {
        return false;
    }
    if (QFileInfo(path).suffix().isEmpty()) {
        path += ".syntonon";
    }
    if (session_.study().name == empty_study().name) {
        session_.edit(tr("Name the study"), [&](Study& study) {
            study.name = QFileInfo(path).completeBaseName().toStdString();
        });
    }
    if (const auto saved = files_.save_as(path); !saved) {
        say_problem(saved.error());
        return false;
    }
    arranged_path_ = files_.path();
    records_.use_study(arranged_path_, true);
    remember_arrangement();
    return true;
}

bool MainWindow::may_discard() {
    if (!session_.is_modified()) {
        return true;
    }
    QMessageBox box(this);
    box.setText(tr("“%1” has unsaved changes.").arg(QString::fromStdString(session_.study().name)));
    auto* keep = box.addButton(tr("Save"), QMessageBox::AcceptRole);
    auto* discard = box.addButton(tr("Discard"), QMessageBox::DestructiveRole);
    box.addButton(tr("Cancel"), QMessageBox::RejectRole);
    box.setDefaultButton(keep);
    box.exec();
    return box.clickedButton() == discard || (box.clickedButton() == keep && save());
}

void MainWindow::ask_open() {
    if (!may_discard()) {
        return;
    }
    const QString path = QFileDialog::getOpenFileName(
        this, tr("Open a study"), QFileInfo(files_.path()).path(), study_filter());
    if (!path.isEmpty()) {
        open_study(path);
    }
}

void MainWindow::ask_new() {
    if (may_discard()) {
        remember_arrangement();
        files_.start_new();
        arranged_path_.clear();
        records_.use_study({}, false);
        message_->hide();
    }
}

void MainWindow::ask_import() {
    const QString path = QFileDialog::getOpenFileName(
        this, tr("Import a curve"), {},
        tr("Text files (*.txt *.csv *.frd *.tsv *.dat);;All files (*)"));
    if (!path.isEmpty()) {
        import_curve(path);
    }
}

void MainWindow::import_curve(const QString& path) {
    auto* dialog = new ImportDialog(
        session_, path, frame_->desk() == Desk::measure ? UseAs::position : UseAs::measured, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

// As a study of the user's own: saving it asks where.
void MainWindow::open_demo() {
    if (!may_discard()) {
        return;
    }
    remember_arrangement();
    files_.start_new();
    arranged_path_.clear();
    records_.use_study({}, false);
    session_.replace_study(brightwater_study());
    message_->hide();
}

void MainWindow::restore(const RecoveredWork& work) {
    if (!may_discard()) {
        return;
    }
    if (const auto restored = files_.restore(work); !restored) {
        say_problem(restored.error());
        return;
    }
    message_->hide();
    arranged_path_ = files_.path();
    records_.use_study(arranged_path_, false);
    arrange(study_settings(arranged_path_, arrangement_name));
}

void MainWindow::offer_recovery() {
    const auto works = files_.recoverable();
    if (works.empty()) {
        return;
    }
    const RecoveredWork& work = works.front();
    const QString when = QLocale::c().toString(work.when, "d MMM, HH:mm");
    std::vector<MessageBar::Choice> choices{{tr("Restore it"),
                                             [this, work] {
                                                 restore(work);
                                                 offer_recovery(); // what is still there
                                             }},
                                            {tr("Later"), {}},
                                            {tr("Discard it"), [this, work] {
                                                 files_.discard(work);
                                                 offer_recovery();
                                             }}};
    if (works.size() > 1) {
        choices.emplace_back(tr("All %1…").arg(works.size()), [this] { show_recovery_list(); });
    }
    const QString words = work.ended_by == EndedBy::request
                              ? tr("Unsaved work on “%1” from %2 was kept when the program was "
                                   "told to end.")
                              : tr("Unsaved work on “%1” from %2 survived a crash.");
    message_->show_message(MessageKind::note, words.arg(work.name, when), choices);
}

void MainWindow::show_recovery_list() {
    auto* dialog = new RecoveryDialog(files_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &RecoveryDialog::open_asked_for, this, &MainWindow::restore);
    connect(dialog, &RecoveryDialog::open_beside_asked_for, this,
            [this](const RecoveredWork& work) {
                auto* beside = new MainWindow;
                beside->setAttribute(Qt::WA_DeleteOnClose);
                beside->restore(work);
                beside->show();
                if (beside->files().path().isEmpty() && !beside->session().is_modified()) {
                    say_problem({work.copy.toStdString(), "cannot be read", "discard it"});
                    beside->close();
                }
            });
    dialog->open();
}

void MainWindow::show_history() {
    auto* dialog = new HistoryDialog(session_, this);
    dialog->show();
}

void MainWindow::end_on_request() {
    ends_on_request_ = true;
    remember_arrangement();
    if (session_.is_modified()) {
        files_.leave(EndedBy::request);
    } else {
        files_.close();
    }
    close();
}

void MainWindow::end_all_on_request() {
    for (QWidget* top : QApplication::topLevelWidgets()) {
        if (auto* window = qobject_cast<MainWindow*>(top)) {
            window->end_on_request();
        }
    }
    QApplication::quit();
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

void MainWindow::rename_current_goal() {
    const Goal* goal = current_goal(session_);
    if (goal == nullptr) {
        return;
    }
    bool ok = false;
    const QString name =
        QInputDialog::getText(this, tr("Rename the goal"), tr("Name"), QLineEdit::Normal,
                              QString::fromStdString(goal->name), &ok);
    if (ok) {
        rename_goal(session_, name);
    }
}

void MainWindow::import_target() {
    const auto imported = ask_import_target(session_, this);
    if (!imported) {
        say_problem(imported.error());
    } else if (*imported) {
        show_goal();
    }
}

void MainWindow::export_target() {
    if (const auto exported = ask_export_target(session_, this); !exported) {
        say_problem(exported.error());
    }
}

void MainWindow::ask_save_lanes(std::optional<Lane> lane) {
    const QString name = QString::fromStdString(
        session_.channel() != nullptr ? session_.channel()->name : session_.study().name);
    QString path = QFileDialog::getSaveFileName(
        this, tr("Save the lanes"), name + ".png",
        tr("Picture (*.png);;Drawing (*.svg);;Document (*.pdf);;Numbers (*.csv)"));
    if (path.isEmpty()) {
        return;
    }
    if (const auto saved = save_lanes(*shown_lanes(), lane, path); !saved) {
        say_problem(saved.error());
    }
}

void MainWindow::rename_selected_stage() {
    if (session_.stage() == nullptr) {
        return;
    }
    bool ok = false;
    const QString name = QInputDialog::getText(
        this, tr("Rename the stage"), tr("Name (empty: the kind's own)"), QLineEdit::Normal,
        QString::fromStdString(session_.stage()->name), &ok);
    if (ok) {
        rename_stage(session_, session_.selection().stage, name);
    }
}

void MainWindow::rename_selected_channel() {
    if (session_.channel() == nullptr) {
        return;
    }
    bool ok = false;
    const QString name =
        QInputDialog::getText(this, tr("Rename the channel"), tr("Name"), QLineEdit::Normal,
                              QString::fromStdString(session_.channel()->name), &ok);
    if (ok) {
        rename_channel(session_, session_.selection().channel, name);
    }
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (ends_on_request_) {
        event->accept();
        return;
    }
    if (!may_discard()) {
        event->ignore();
        return;
    }
    remember_arrangement();
    files_.close();
    event->accept();
}

void MainWindow::ask_add_stage_from_file() {
    const QString path = QFileDialog::getOpenFileName(
        this, tr("A stage from a file"), {},
        tr("Stages and taps (*%1 *.txt *.csv *.dat *.h *.c *.hex *.wav *.flac *.aiff *.aif);;All "
           "files (*)")
            .arg(QString::fromUtf8(stage_file_ending.data(), stage_file_ending.size())));
    if (!path.isEmpty()) {
        add_stage_from(path);
    }
}

void MainWindow::add_stage_from(const QString& path) {
    const auto words = add_stage_from_file(session_, path, this);
    if (!words) {
        say_problem(words.error());
    } else if (*words && !(*words)->isEmpty()) {
        message_->show_message(MessageKind::note, **words);
    }
}

void MainWindow::ask_save_stage() {
    if (session_.stage() == nullptr) {
        return;
    }
    StageOutDialog dialog(session_, this);
    if (dialog.exec() == QDialog::Accepted) {
        message_->show_message(MessageKind::note, dialog.words());
    }
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) {
        event->acceptProposedAction();
    }
}

void MainWindow::dropEvent(QDropEvent* event) {
    const QString path = event->mimeData()->urls().value(0).toLocalFile();
    if (path.endsWith(".syntonon")) {
        if (may_discard()) {
            open_study(path);
        }
    } else if (holds_a_stage(path)) {
        add_stage_from(path);
    } else if (!path.isEmpty()) {
        import_curve(path);
    }
}

} // namespace syntonon
