// Stages from files into the selected channel.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/base/problem.h"

#include <QString>
#include <optional>

class QWidget;

namespace syntonon {

// By its name a stage's file, or one that holds sound, a program's text or words: what a drop on
// the window takes as a stage.
bool holds_a_stage(const QString& path);

// A stage's file as it was saved, sound as taps, anything else as coefficients, which are looked at
// first; behind the selected stage. What should be known of it, in plain words, may be empty;
// nothing: the user thought better of it.
Expected<std::optional<QString>> add_stage_from_file(Session& session, const QString& path,
                                                     QWidget* parent);

// The same with coefficients on the clipboard.
Expected<std::optional<QString>> add_stage_from_clipboard(Session& session, QWidget* parent);

} // namespace syntonon
