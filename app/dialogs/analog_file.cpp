// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/analog_file.h"

#include "app/widgets/words.h"
#include "core/base/file.h"

#include <QFileDialog>

namespace syntonon {

Expected<void> ask_export_analog(Session& session, AnalogFormat format, QWidget* parent) {
    const auto text = analog_text_of_selected(session, format);
    if (!text) {
        return tl::unexpected(text.error());
    }
    const QString ending = format == AnalogFormat::csv    ? QStringLiteral(".csv")
                           : format == AnalogFormat::json ? QStringLiteral(".json")
                                                          : QStringLiteral(".txt");
    const QString path =
        QFileDialog::getSaveFileName(parent, tr("Hand out the analog filter"),
                                     QString::fromStdString(session.channel()->name) + ending);
    return path.isEmpty() ? Expected<void>() : write_file_atomically(path.toStdString(), *text);
}

} // namespace syntonon
