// The selected stage where it is an FIR.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/study/kinds.h"

namespace syntonon {

// Null where it is none.
inline const FirSpec* selected_fir(const Session& session) {
    const Stage* stage = session.stage();
    return stage != nullptr ? std::get_if<FirSpec>(&*stage->spec) : nullptr;
}

} // namespace syntonon
