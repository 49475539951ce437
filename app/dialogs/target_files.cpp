// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/target_files.h"

#include "app/model/goal_commands.h"
#include "app/widgets/words.h"
#include "core/base/file.h"
#include "core/exchange/target_text.h"

#include <QFileDialog>

namespace syntonon {
namespace {

QString target_filter() {
    return tr("Text files (*.txt *.csv);;All files (*)");
}

} // namespace

Expected<bool> ask_import_target(Session& session, QWidget* parent) {
    const QString path =
        QFileDialog::getOpenFileName(parent, tr("Import a target"), {}, target_filter());
    if (path.isEmpty()) {
        return false;
    }
    const auto line = target_from_file(path.toStdString());
    if (!line) {
        return tl::unexpected(line.error());
    }
    if (current_goal(session) == nullptr) {
        add_goal(session);
    }
    edit_goal(session, tr("Import a target"), [&](Goal& goal) {
        static_cast<TargetLine&>(goal.target) = *line;
        goal.target.house.reset();
        goal.target.source.reset();
    });
    return true;
}

Expected<void> ask_export_target(Session& session, QWidget* parent) {
    const Goal* goal = current_goal(session);
    if (goal == nullptr) {
        return {};
    }
    if (goal->target.source) {
        return refuse(
            "",
            tr("the target follows something else, so it has no points of its own").toStdString(),
            tr("keep it as points first").toStdString());
    }
    const QString path =
        QFileDialog::getSaveFileName(parent, tr("Export the target"),
                                     QString::fromStdString(goal->name) + ".txt", target_filter());
    if (path.isEmpty()) {
        return {};
    }
    const TargetLine line =
        goal->target.house ? line_of(*goal->target.house) : TargetLine(goal->target);
    return write_file_atomically(path.toStdString(), target_text(line, goal->name));
}

} // namespace syntonon
