// The study's curves and what the selected channel makes of them: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

void choose_measured(Session& session, const QString& id); // as the only position; empty: none
// Puts a curve into the study and, if wanted, gives it to the selected channel as its measurement.
void add_curve(Session& session, Curve curve, bool use_as_measured);
// Channels that used it keep naming it, and their verdict says so, until another is chosen.
void remove_curve(Session& session, const QString& id);

} // namespace syntonon
