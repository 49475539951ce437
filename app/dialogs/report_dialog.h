// One page about a channel, into a file that is asked for.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

class QWidget;

namespace syntonon {

// Of the selected channel; nothing happens without one, or when no file is chosen.
Expected<void> ask_save_report(Session& session, QWidget* parent);

} // namespace syntonon
