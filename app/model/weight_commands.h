// The weights that are drawn on the lane: each change a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/goal/weights.h"

#include <QString>
#include <functional>

namespace syntonon {

// Of the selected FIR where its method weighs errors, else of the channel's goal.
struct DrawnWeights {
    enum class Of { nobody, goal, fir } of = Of::nobody;
    Weights weights;
    WeightLimits limits{};
};
DrawnWeights drawn_weights(const Session& session);
// Its points. Nothing happens where they are nobody's.
void edit_drawn_weights(Session& session, const QString& name,
                        const std::function<void(WeightCurve&)>& change,
                        const QString& gesture = {});
// Points of weight 1 at the edges of the selected FIR's bands, or of the corridor that it is stated
// by, to be dragged; nothing happens where there are points already.
void begin_fir_weights(Session& session);
// A point more, or the weight of the one that is there.
void add_point(WeightCurve& points, double hz, double weight);

} // namespace syntonon
