// What one does to a recursive fit: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/fit/fitted.h"

#include <functional>

namespace syntonon {

const FittedSpec* selected_fitted(const Session& session); // null where it is none

// Settings: what was found stays, until it is fitted again. Nothing where the selected stage is no
// such fit.
void edit_fitted(Session& session, const QString& name,
                 const std::function<void(FittedSpec&)>& change);

} // namespace syntonon
