// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"

#include "app/dialogs/export_dialog.h"
#include "app/dialogs/import_dialog.h"
#include "app/menus/menus.h"
#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/companion.h"
#include "app/panes/goal/weights_tab.h"
#include "app/panes/goal_pane.h"
#include "app/panes/numbers_pane.h"
#include "app/panes/rail.h"
#include "app/panes/roots_pane.h"
#include "app/panes/takes_pane.h"
#include "app/panes/time_pane.h"
#include "app/panes/trim_strip.h"
#include "app/panes/verdict_bar.h"
#include "app/panes/verdict_pane.h"
#include "app/panes/working_pane.h"
#include "app/plot/lane_picture.h"
#include "app/plot/lane_stack.h"
#include "app/widgets/message_bar.h"
#include "app/widgets/theme.h"
#include "core/base/file.h"
#include "core/exchange/target_text.h"
#include "core/study/problems.h"

#include <QCheckBox>
#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSplitter>
#include <QToolButton>
#include <fmt/format.h>

namespace syntonon {
namespace {

const QString target_filter = QObject::tr("Text files (*.txt *.csv);;All files (*)");
const QString study_filter = QObject::tr("Studies (*.syntonon);;All files (*)");
// Of the upper companion.
constexpr int goal_page = 2, takes_page = 3, verdict_page = 4, working_page = 5;

QString rate_text(double hz) {
    return QString::fromStdString(fmt::format("{:g} kHz", hz / 1000));
}

} // namespace

MainWindow::MainWindow(std::shared_ptr<DesignStore> store)
    : session_(nullptr, std::move(store)), files_(session_),
      channel_tabs_(new TabStrip(TabStrip::Look::channels)), study_name_(new QLabel),
      sample_rate_(new QToolButton), message_(new MessageBar), rail_(new Rail(session_)),
      lanes_(new LaneStack(session_)), upper_(new Companion(tr("Upper companion"))),
      lower_(new Companion(tr("Lower companion"))), goal_pane_(new GoalPane(session_)),
      takes_pane_(new TakesPane(session_)), verdict_pane_(new VerdictPane(session_)),
      working_pane_(new WorkingPane(session_)), trim_(new TrimStrip(session_)),
      verdict_(new VerdictBar(session_)) {
    setAcceptDrops(true);
    setMenuWidget(build_top_bar());
    auto* centre = new QWidget;
    auto* column = new QVBoxLayout(centre);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(message_);
    column->addWidget(build_middle(), 1);
    column->addWidget(trim_);
    column->addWidget(verdict_);
    setCentralWidget(centre);
    resize(1280, 800);
    connect(&session_, &Session::study_changed, this, &MainWindow::show_channels);
    connect(&session_, &Session::selection_changed, this, &MainWindow::show_channels);
    connect(&session_, &Session::modified_changed, this, &MainWindow::show_title);
    connect(&files_, &StudyFiles::path_changed, this, &MainWindow::show_title);
    connect(&files_, &StudyFiles::recovery_failed, this, [this](const QString& reason) {
        message_->show_message(MessageKind::problem,
                               tr("Your work cannot be kept for recovery: %1").arg(reason));
    });
    connect(channel_tabs_, &TabStrip::chosen_by_user, &session_, &Session::select_channel);
    connect(channel_tabs_, &TabStrip::opened_by_user, this, &MainWindow::rename_selected_channel);
    connect(rail_, &Rail::rename_asked_for, this, &MainWindow::rename_selected_stage);
    connect(goal_pane_, &GoalPane::import_asked_for, this, &MainWindow::ask_import);
    connect(lanes_, &LaneStack::goal_asked_for, this, &MainWindow::show_goal);
    connect(goal_pane_, &GoalPane::goal_menu_asked_for, this, [this](const QPoint& at) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        fill_goal_actions(*menu, *this);
        menu->popup(at);
    });
    connect(goal_pane_, &GoalPane::weight_lane_wanted, this, [this](bool shown) {
        LaneView view = lanes_->view();
        view.show(Lane::weight, shown);
        lanes_->change_view(view);
    });
    connect(lanes_, &LaneStack::view_changed, this, [this] {
        const QSignalBlocker blocker(goal_pane_->weights_tab()->lane_shown());
        goal_pane_->weights_tab()->lane_shown()->setChecked(lanes_->view().shows(Lane::weight));
    });
    connect(lanes_, &LaneStack::save_asked_for, this, &MainWindow::ask_save_lanes);
    connect(verdict_, &VerdictBar::finding_chosen, lanes_, &LaneStack::magnify_finding);
    connect(verdict_pane_, &VerdictPane::finding_chosen, lanes_, &LaneStack::magnify_finding);
    connect(upper_, &Companion::page_shown, this,
            [this](int page) { lanes_->set_goal_editing(page == goal_page); });
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &MainWindow::show_channels);
    show_channels();
    show_title();
    lanes_->setFocus();
}

QWidget* MainWindow::build_top_bar() {
    auto* bar = new QWidget;
    bar->setBackgroundRole(QPalette::NoRole);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(6, 0, 12, 0);
    row->setSpacing(10);
    auto* menus = new QMenuBar;
    menus->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
    fill_menus(*menus, *this);
    row->addWidget(menus);
    row->addSpacing(40);
    row->addWidget(channel_tabs_, 1);
    channel_tabs_->setAccessibleName(tr("Channels"));
    channel_tabs_->setToolTip(tr("Double click to rename"));
    study_name_->setForegroundRole(QPalette::PlaceholderText);
    study_name_->setObjectName("study_name");
    row->addWidget(study_name_);
    sample_rate_->setAutoRaise(true);
    sample_rate_->setPopupMode(QToolButton::InstantPopup);
    sample_rate_->setStyleSheet(
        "QToolButton { border: none; padding: 4px; } QToolButton::menu-indicator { width: 0; } "
        "QToolButton:focus { text-decoration: underline; }");
    sample_rate_->setAccessibleName(tr("Sample rate"));
    sample_rate_->setToolTip(tr("Sample rate of the study"));
    sample_rate_->setFocusPolicy(Qt::TabFocus);
    fill_sample_rates();
    row->addWidget(sample_rate_);
    bar->setFixedHeight(32);
    bar->setObjectName("top_bar");
    bar->setAutoFillBackground(false);
    return bar;
}

void MainWindow::fill_sample_rates() {
    auto* menu = new QMenu(sample_rate_);
    const auto use = [this](double hz) {
        session_.edit(tr("Change the sample rate to %1").arg(rate_text(hz)),
                      [hz](Study& study) { study.sample_rate_hz = hz; });
    };
    for (const double hz : {32000.0, 44100.0, 48000.0, 88200.0, 96000.0, 176400.0, 192000.0}) {
        menu->addAction(rate_text(hz), this, [use, hz] { use(hz); });
    }
    menu->addAction(tr("Another…"), this, [this, use] {
        bool ok = false;
        const double hz =
            QInputDialog::getDouble(this, tr("Sample rate"), tr("Samples a second"),
                                    session_.study().sample_rate_hz, 100, 1e7, 1, &ok);
        if (ok) {
            use(hz);
        }
    });
    sample_rate_->setMenu(menu);
}

QWidget* MainWindow::build_middle() {
    upper_->add_page(tr("Roots"), new RootsPane(session_));
    upper_->add_page(tr("Numbers"), new NumbersPane(session_));
    upper_->add_page(tr("Goal"), goal_pane_);
    upper_->add_page(tr("Takes"), takes_pane_);
    upper_->add_page(tr("Verdict"), verdict_pane_);
    upper_->add_page(tr("Working"), working_pane_);
    auto* time = new TimePane(session_);
    for (const QString& word : {tr("Impulse"), tr("Step"), tr("Decay")}) {
        lower_->add_page(word, time);
    }
    connect(lower_, &Companion::page_shown, time,
            [time](int page) { time->show_view(static_cast<TimeView>(page)); });
    auto* companions = new QSplitter(Qt::Vertical);
    companions->setHandleWidth(1);
    companions->addWidget(upper_);
    companions->addWidget(lower_);
    companions->setStretchFactor(0, 2);
    companions->setStretchFactor(1, 1);
    companions->setSizes({452, 180});
    auto* middle = new QSplitter(Qt::Horizontal);
    middle->setHandleWidth(1);
    middle->setChildrenCollapsible(false);
    middle->addWidget(rail_);
    middle->addWidget(lanes_);
    middle->addWidget(companions);
    middle->setStretchFactor(1, 1);
    middle->setSizes({176, 664, 440});
    return middle;
}

void MainWindow::show_title() {
    const QString name = QString::fromStdString(session_.study().name);
    const QString mark = session_.is_modified() ? QStringLiteral(" •") : QString();
    study_name_->setText(name + mark);
    study_name_->setToolTip(files_.path().isEmpty() ? tr("Not saved yet") : files_.path());
    const QString file =
        files_.path().isEmpty() ? tr("not saved yet") : QFileInfo(files_.path()).fileName();
    setWindowTitle(QStringLiteral("%1%2 (%3) – Syntonon").arg(name, mark, file));
}

void MainWindow::show_channels() {
    QStringList names;
    std::vector<QColor> colours;
    for (const auto& channel : session_.study().channels) {
        colours.push_back(channel_colour(QString::fromStdString(channel->colour),
                                         static_cast<int>(names.size())));
        names << QString::fromStdString(channel->name);
    }
    channel_tabs_->set_tabs(names, colours);
    if (channel_tabs_->chosen() != session_.selection().channel) {
        channel_tabs_->choose(session_.selection().channel);
    }
    sample_rate_->setText(rate_text(session_.study().sample_rate_hz));
    show_title();
}

void MainWindow::say_problem(const Problem& problem) {
    message_->show_message(MessageKind::problem, QString::fromStdString(to_text(problem)));
}

bool MainWindow::open_study(const QString& path) {
    const auto opened = files_.open(path);
    if (!opened) {
        say_problem(opened.error());
        return false;
    }
    if (const auto problems = problems_of(session_.study(), session_.briefs()); !problems.empty()) {
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
    return true;
}

bool MainWindow::save_as() {
    const QString proposal = files_.path().isEmpty()
                                 ? QString::fromStdString(session_.study().name) + ".syntonon"
                                 : files_.path();
    QString path = QFileDialog::getSaveFileName(this, tr("Save the study"), proposal, study_filter);
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
        this, tr("Open a study"), QFileInfo(files_.path()).path(), study_filter);
    if (!path.isEmpty()) {
        open_study(path);
    }
}

void MainWindow::ask_new() {
    if (may_discard()) {
        files_.start_new();
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
    auto* dialog = new ImportDialog(session_, path, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void MainWindow::ask_export() {
    auto* dialog = new ExportDialog(session_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void MainWindow::offer_recovery() {
    const auto works = files_.recoverable();
    if (works.empty()) {
        return;
    }
    const RecoveredWork& work = works.front();
    const QString when = QLocale::c().toString(work.when, "d MMM, HH:mm");
    const auto next = [this] { offer_recovery(); };
    message_->show_message(
        MessageKind::note,
        tr("Unsaved work on “%1” from %2 survived a crash.").arg(work.name, when),
        {{tr("Restore it"),
          [this, work] {
              if (!may_discard()) {
                  offer_recovery();
              } else if (const auto restored = files_.restore(work); !restored) {
                  say_problem(restored.error());
              }
          }},
         {tr("Later"), {}},
         {tr("Discard it"), [this, work, next] {
              files_.discard(work);
              next();
          }}});
}

void MainWindow::show_goal() {
    upper_->show_page(goal_page);
}

void MainWindow::show_takes() {
    upper_->show_page(takes_page);
}

void MainWindow::show_verdict() {
    upper_->show_page(verdict_page);
}

void MainWindow::show_working() {
    upper_->show_page(working_page);
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

void MainWindow::ask_import_target() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Import a target"), {}, target_filter);
    if (path.isEmpty()) {
        return;
    }
    const auto line = target_from_file(path.toStdString());
    if (!line) {
        say_problem(line.error());
        return;
    }
    if (current_goal(session_) == nullptr) {
        add_goal(session_);
    }
    edit_goal(session_, tr("Import a target"), [&](Goal& goal) {
        static_cast<TargetLine&>(goal.target) = *line;
        goal.target.house.reset();
        goal.target.source.reset();
    });
    show_goal();
}

void MainWindow::ask_export_target() {
    const Goal* goal = current_goal(session_);
    if (goal == nullptr) {
        return;
    }
    if (goal->target.source) {
        say_problem(
            {"",
             tr("the target follows something else, so it has no points of its own").toStdString(),
             tr("keep it as points first").toStdString()});
        return;
    }
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Export the target"), QString::fromStdString(goal->name) + ".txt", target_filter);
    if (path.isEmpty()) {
        return;
    }
    const TargetLine line =
        goal->target.house ? line_of(*goal->target.house) : TargetLine(goal->target);
    const auto written = write_file_atomically(path.toStdString(), target_text(line, goal->name));
    if (!written) {
        say_problem(written.error());
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
    if (const auto saved = save_lanes(*lanes_, lane, path); !saved) {
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
    if (!may_discard()) {
        event->ignore();
        return;
    }
    files_.close();
    event->accept();
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
    } else if (!path.isEmpty()) {
        import_curve(path);
    }
}

} // namespace syntonon
