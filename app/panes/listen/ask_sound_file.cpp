// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/ask_sound_file.h"

#include <QCoreApplication>
#include <QFileDialog>
#include <QStringList>
#include <algorithm>
#include <array>

namespace syntonon {
namespace {

struct SoundFormat {
    const char* words; // as the dialog lists it
    const char* ending;
    SoundWords format;
};
constexpr std::array formats = {
    SoundFormat{QT_TRANSLATE_NOOP("Sounds", "WAV, 24 bits"), ".wav", SoundWords::int_24},
    SoundFormat{QT_TRANSLATE_NOOP("Sounds", "WAV, 16 bits"), ".wav", SoundWords::int_16},
    SoundFormat{QT_TRANSLATE_NOOP("Sounds", "WAV, floats"), ".wav", SoundWords::float_32},
    SoundFormat{QT_TRANSLATE_NOOP("Sounds", "FLAC, 24 bits"), ".flac", SoundWords::int_24},
    SoundFormat{QT_TRANSLATE_NOOP("Sounds", "FLAC, 16 bits"), ".flac", SoundWords::int_16}};

QString filter_of(const SoundFormat& format) {
    return QStringLiteral("%1 (*%2)")
        .arg(QCoreApplication::translate("Sounds", format.words), QLatin1String(format.ending));
}

// What was chosen in the list, unless the typed name says another kind.
const SoundFormat& format_for(const QString& path, const QString& filter) {
    const auto chosen =
        std::ranges::find(formats, filter, [](const auto& format) { return filter_of(format); });
    const SoundFormat& listed = chosen != formats.end() ? *chosen : formats.front();
    const auto typed = std::ranges::find_if(formats, [&](const SoundFormat& format) {
        return path.endsWith(QLatin1String(format.ending), Qt::CaseInsensitive);
    });
    const bool is_another =
        typed != formats.end() && QLatin1String(typed->ending) != QLatin1String(listed.ending);
    return is_another ? *typed : listed;
}

} // namespace

std::optional<WantedSoundFile> ask_sound_file(QWidget* parent, const QString& name,
                                              Dithering dithering) {
    QStringList filters;
    for (const SoundFormat& format : formats) {
        filters.append(filter_of(format));
    }
    QString filter = filters.front();
    QString path = QFileDialog::getSaveFileName(
        parent, QCoreApplication::translate("Sounds", "Save as a sound file"),
        name + QLatin1String(formats.front().ending), filters.join(";;"), &filter);
    if (path.isEmpty()) {
        return {};
    }
    const SoundFormat& format = format_for(path, filter);
    if (!path.endsWith(QLatin1String(format.ending), Qt::CaseInsensitive)) {
        path += QLatin1String(format.ending);
    }
    return WantedSoundFile{path, {format.format, dithering}};
}

} // namespace syntonon
