// What a way to the goal becomes in the selected channel: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/study/ways/ways.h"

#include <optional>

namespace syntonon {

// In the place of the selected stage where that is an FIR or a classical filter, else behind it;
// and selected.
void take_way(Session& session, const Way& way);
// The chain as it would be then, as a take; the chain stays as it is.
void keep_way(Session& session, const Way& way);
// The filter of the chain with that stage there; nothing where there is no channel, or another
// stage of it has no filter.
std::optional<Filter> chain_with(const Session& session, const StageSpec& spec,
                                 const Filter& filter);

} // namespace syntonon
