// What one does to a correction: each a named step of the history. They do nothing where the
// selected stage is none.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/correction.h"

#include <cstddef>
#include <functional>
#include <set>

namespace syntonon {

const CorrectionSpec* selected_correction(const Session& session); // null where it is none

// Every measured channel gets a goal and a correction where it has none (see with_corrections), in
// one step; the first of them is selected. Refused where nothing is measured.
Expected<void> begin_corrections(Session& session);

// Settings: what was found stays, until it is fitted again.
void edit_correction(Session& session, const QString& name,
                     const std::function<void(CorrectionSpec&)>& change,
                     const QString& gesture = {});

// Found sections, by their place in the list. What has been turned by hand is locked, so that it
// is still there when the rest is fitted again.
void change_found(Session& session, std::size_t at,
                  const std::function<void(ParametricSpec&)>& change, const QString& gesture = {});
void lock_found(Session& session, const std::set<int>& rows, bool locked);
void remove_found(Session& session, const std::set<int>& rows);
void add_found(Session& session, const ParametricSpec& section); // locked

// The selected correction's sections or taps as stages of their own in its place; it goes.
void open_into_stages(Session& session);

} // namespace syntonon
