// How a study is opened, saved, taken up again after a crash, and left.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"

#include "app/desks/deliver_desk.h"
#include "app/dialogs/recovery_dialog.h"
#include "app/widgets/message_bar.h"
#include "core/exchange/deliver.h"
#include "core/study/problems.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>
#include <algorithm>
#include <iterator>
#include <memory>

namespace syntonon {
namespace {

QString study_filter() {
    return QObject::tr("Studies (*.syntonon);;All files (*)");
}

} // namespace

bool MainWindow::open_study(const QString& path) {
    remember_arrangement();
    const auto opened = files_.open(path);
    if (!opened) {
        say_problem(opened.error());
        return false;
    }
    arranged_path_ = files_.path();
    records_.use_study(arranged_path_, false);
    arrange(kept_arrangement(arranged_path_));
    auto problems = problems_of(session_.study(), session_.briefs());
    std::ranges::move(problems_of_files(session_.study()), std::back_inserter(problems));
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

void MainWindow::save() {
    if (files_.path().isEmpty()) {
        save_as();
    } else {
        save_to(files_.path());
    }
}

void MainWindow::save_as() {
    const QString proposal = files_.path().isEmpty()
                                 ? QString::fromStdString(session_.study().name) + ".syntonon"
                                 : files_.path();
    QString path =
        QFileDialog::getSaveFileName(this, tr("Save the study"), proposal, study_filter());
    if (path.isEmpty()) {
        return;
    }
    if (QFileInfo(path).suffix().isEmpty()) {
        path += ".syntonon";
    }
    if (session_.study().name == empty_study().name) {
        session_.edit(tr("Name the study"), [&](Study& study) {
            study.name = QFileInfo(path).completeBaseName().toStdString();
        });
    }
    save_to(path);
}

// What takes a moment is said, and that it is done as well.
void MainWindow::save_to(const QString& path) {
    const QString file = QFileInfo(path).fileName();
    const auto is_said = std::make_shared<bool>(false);
    files_.save(path, [this, file, is_said](const Expected<void>& saved) {
        if (!saved) {
            message_->show_message(MessageKind::problem,
                                   QString::fromStdString(to_text(saved.error())),
                                   {{tr("Save as…"), [this] { save_as(); }}, {tr("Close"), {}}});
            return;
        }
        if (arranged_path_ != files_.path()) {
            arranged_path_ = files_.path();
            records_.use_study(arranged_path_, true);
        }
        remember_arrangement();
        if (*is_said) {
            message_->show_message(MessageKind::note, tr("%1 is saved.").arg(file));
        }
    });
    if (files_.is_saving()) {
        *is_said = true;
        message_->show_message(MessageKind::note,
                               tr("%1 is being saved; the volume is slow…").arg(file));
    }
}

void MainWindow::finish_writing() {
    QApplication::setOverrideCursor(Qt::WaitCursor);
    files_.finish_saving();
    if (deliver_ != nullptr) {
        deliver_->finish_writing();
    }
    QApplication::restoreOverrideCursor();
}

bool MainWindow::may_discard() {
    finish_writing();
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
    if (box.clickedButton() == keep) {
        save();
        finish_writing();
        return !session_.is_modified();
    }
    return box.clickedButton() == discard;
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
    arrange(kept_arrangement(arranged_path_));
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

void MainWindow::end_on_request() {
    ends_on_request_ = true;
    finish_writing();
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

} // namespace syntonon
