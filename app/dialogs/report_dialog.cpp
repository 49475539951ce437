// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/report_dialog.h"

#include "app/report/channel_report.h"

#include <QFileDialog>

namespace syntonon {

Expected<void> ask_save_report(Session& session, QWidget* parent) {
    if (session.channel() == nullptr) {
        return {};
    }
    const auto report = report_of(session, *session.channel());
    if (!report) {
        return tl::unexpected(report.error());
    }
    const QString path =
        QFileDialog::getSaveFileName(parent, QObject::tr("Save the report of the channel"),
                                     name_of_report(*report), QObject::tr("Document (*.pdf)"));
    return path.isEmpty() ? Expected<void>() : save_report(*report, path);
}

} // namespace syntonon
