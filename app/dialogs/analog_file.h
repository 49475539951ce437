// Handing an analog channel out as a file.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/analog_commands.h"

class QWidget;

namespace syntonon {

// Asks where to; nothing happens where nobody says so.
Expected<void> ask_export_analog(Session& session, AnalogFormat format, QWidget* parent);

} // namespace syntonon
