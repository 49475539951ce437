// A target out to a file and in from one.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

class QWidget;

namespace syntonon {

// Asks which file; true when the goal has a new target, false when nothing was chosen.
Expected<bool> ask_import_target(Session& session, QWidget* parent);
Expected<void> ask_export_target(Session& session, QWidget* parent);

} // namespace syntonon
