// What one does to the target of the selected channel's goal: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>
#include <set>

namespace syntonon {

// What the target's points are raised by on the lane (its anchor); 0 where that is not known.
double target_anchor_db(const Session& session);
// The target on the lane at a frequency; 0 in a gap.
double target_level_at(const Session& session, double hz);
// A house curve or a followed curve becomes points of its own. A followed curve is taken at twelve
// frequencies an octave, and without its anchor.
void keep_target_as_points(Session& session);

// Points stay in order of frequency; points that are not moved are never passed. `level_db` is on
// the lane. A target of another form is kept as points first.
void add_target_point(Session& session, double hz, double level_db);
void remove_target_points(Session& session, const std::set<int>& points);
// Moves points by a factor of frequency and by dB; points at a jump move along in frequency.
void move_target_points(Session& session, const std::set<int>& points, double ratio, double db,
                        const QString& gesture = {});
// Scales levels about their mean.
void scale_target_points(Session& session, const std::set<int>& points, double factor);
// A second point at the same frequency: its two levels make a jump.
void add_jump(Session& session, int point);

// The same, on any line of points: without a step of the history.
void move_points(TargetLine& line, std::set<int> points, double ratio, double by);

} // namespace syntonon
