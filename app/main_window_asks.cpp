// What the window asks for: names, files that come in and go out.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"

#include "app/desks/deliver_desk.h"
#include "app/desks/desk_frame.h"
#include "app/desks/listen_desk.h"
#include "app/desks/measure_desk.h"
#include "app/desks/shape_desk.h"
#include "app/dialogs/history_dialog.h"
#include "app/dialogs/import_dialog.h"
#include "app/dialogs/measurements_dialog.h"
#include "app/dialogs/report_dialog.h"
#include "app/dialogs/stage_in.h"
#include "app/dialogs/stage_out_dialog.h"
#include "app/dialogs/target_files.h"
#include "app/model/correction_commands.h"
#include "app/model/delivery_commands.h"
#include "app/model/goal_commands.h"
#include "app/model/measured_files.h"
#include "app/model/stage_commands.h"
#include "app/panes/companion.h"
#include "app/panes/correction/correction_page.h"
#include "app/panes/measure/simulated_room_box.h"
#include "app/panes/measure/sound_device_box.h"
#include "app/panes/measure/sweep_page.h"
#include "app/plot/lane_picture.h"
#include "app/plot/lane_stack.h"
#include "app/widgets/message_bar.h"
#include "core/design/modelled_filter.h"
#include "core/exchange/sound_taps.h"
#include "core/study/stage_file.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QInputDialog>
#include <QMimeData>
#include <QUrl>

namespace syntonon {

void MainWindow::ask_import() {
    const QStringList paths = QFileDialog::getOpenFileNames(
        this, tr("Import measurements"), {},
        tr("Responses and sounds (*.txt *.csv *.frd *.tsv *.dat *.wav *.flac *.aiff *.aif *.w64 "
           "*.caf);;All files (*)"));
    import_measured({paths, {}, {}, {}, {}});
}

// One text goes through a form of its own, which offers more of what texts need.
void MainWindow::import_measured(const MeasuredFiles& files) {
    const QStringList& paths = files.paths;
    if (paths.size() == 1 && !is_sound_file(paths.front().toStdString())) {
        import_curve(paths.front());
    } else if (!paths.isEmpty()) {
        const SweepPlan sweep =
            files.sweep.value_or(measure_ != nullptr ? measure_->sweep() : SweepPlan());
        auto* dialog = new MeasurementsDialog(session_, files, sweep, this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        if (!files.position.isEmpty()) {
            connect(dialog, &QDialog::accepted, measure_->sweep_page()->device(),
                    &SoundDeviceBox::go_on);
        }
        connect(dialog, &QDialog::accepted, this, [this, dialog] {
            if (const auto left = dialog->left_out(); measure_ != nullptr && left.size() == 1) {
                measure_->sweep_page()->room()->choose(left.front().channel, left.front().position);
            }
        });
        dialog->open();
    }
}

void MainWindow::import_curve(const QString& path) {
    auto* dialog = new ImportDialog(
        session_, path, frame_->desk() == Desk::measure ? UseAs::position : UseAs::measured, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void MainWindow::ask_add_stage_from_file() {
    const QString path = QFileDialog::getOpenFileName(
        this, tr("A stage from a file"), {},
        tr("Stages, coefficients and taps (*%1 *.txt *.csv *.dat *.json *.h *.c *.hpp *.cpp *.hex "
           "*.mem *.wav *.flac *.aiff *.aif);;All files (*)")
            .arg(QString::fromUtf8(stage_file_ending.data(), stage_file_ending.size())));
    if (!path.isEmpty()) {
        add_stage_from(path);
    }
}

void MainWindow::add_stage_from(const QString& path) {
    say_what_came(add_stage_from_file(session_, path, this));
}

void MainWindow::paste_stage() {
    say_what_came(add_stage_from_clipboard(session_, this));
}

void MainWindow::say_what_came(const Expected<std::optional<QString>>& words) {
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
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls()) {
        paths << url.toLocalFile();
    }
    const QString path = paths.value(0);
    if (path.endsWith(".syntonon")) {
        if (may_discard()) {
            open_study(path);
        }
    } else if (frame_->desk() == Desk::listen && is_sound_file(path.toStdString())) {
        listen().add_file(path);
    } else if (paths.size() == 1 && holds_a_stage(path)
               && !(frame_->desk() == Desk::measure && is_sound_file(path.toStdString()))) {
        add_stage_from(path);
    } else if (!path.isEmpty()) {
        import_measured({paths, {}, {}, {}, {}});
    }
}

// Where there is no delivery yet the first one is made: a table, or of a chain with a model its
// source, since its sections are those of soft sounds alone.
void MainWindow::export_coefficients() {
    show_desk(Desk::deliver);
    if (session_.study().deliveries.empty() && session_.channel() != nullptr) {
        Delivery first = standard_deliveries().front();
        if (session_.analysis() != nullptr && has_model(session_.analysis()->chain)) {
            first.name = first.id = "instrument";
            first.layout.format = FileFormat::instrument;
        }
        deliver().choose(add_delivery(session_, first));
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

void MainWindow::correct_measured_channels() {
    if (const auto begun = begin_corrections(session_); !begun) {
        say_problem(begun.error());
        return;
    }
    show_desk(Desk::shape);
    shape().upper()->show_page(ShapeDesk::correction);
    static_cast<CorrectionPage*>(shape().upper()->page(ShapeDesk::correction))
        ->pages()
        ->show_page(CorrectionPage::channels);
}

void MainWindow::save_report() {
    if (const auto saved = ask_save_report(session_, this); !saved) {
        say_problem(saved.error());
    }
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

void MainWindow::show_history() {
    auto* dialog = new HistoryDialog(session_, this);
    dialog->show();
}

} // namespace syntonon
