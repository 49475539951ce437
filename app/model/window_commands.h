// What one does to the window of the selected FIR: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/math/window.h"

#include <QString>
#include <optional>
#include <vector>

namespace syntonon {

// Null where the selected stage's taps are not weighted with one that can be chosen.
const Window* selected_window(const Session& session);
// Of a drawn window; else null.
const std::vector<WindowPoint>* drawn_points(const Session& session);

// Whether each point has its mirror image about the middle.
bool is_symmetric(const std::vector<WindowPoint>& points);
// The first half mirrored.
void make_window_symmetric(Session& session);

// Between its neighbours; `symmetric`: its mirror image with it.
void move_window_point(Session& session, std::size_t i, WindowPoint to, bool symmetric,
                       const QString& gesture);
// The new point's place in the row.
std::size_t add_window_point(Session& session, WindowPoint point, bool symmetric);
// Two points stay.
void remove_window_point(Session& session, std::size_t i, bool symmetric);

// By the window's parameter; false where it has none.
bool set_side_lobe(Session& session, double level_db, const QString& gesture);

} // namespace syntonon
