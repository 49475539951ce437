// Where a sound goes, and in which format: asked in one dialog.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/save_sound.h"

#include <QString>
#include <optional>

class QWidget;

namespace syntonon {

struct WantedSoundFile {
    QString path; // with its ending
    SoundFormatWish wish;
};

// Nothing where it is called off. `name` is proposed, without an ending.
std::optional<WantedSoundFile> ask_sound_file(QWidget* parent, const QString& name,
                                              Dithering dithering);

} // namespace syntonon
