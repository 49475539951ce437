// Changes of how the selected FIR is designed, that can leave what was before as a take.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>
#include <functional>

namespace syntonon {

// One step of the history. Where the session is told to keep what was before (Session::keeping) the
// chain as it was becomes a take, "Windowed FIR, Kaiser, 101 taps", in the same step; of changes
// that belong to one gesture only the first does so.
void edit_fir(Session& session, const QString& name, const std::function<void(StageSpec&)>& change,
              const QString& gesture = {});

} // namespace syntonon
