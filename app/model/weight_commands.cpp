// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/weight_commands.h"

#include "app/model/goal_commands.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

void add_weight_point(Session& session, double hz, double weight) {
    edit_goal(
        session, tr("Add a weight point at %1").arg(QString::fromStdString(frequency_text(hz))),
        [&](Goal& goal) {
            auto& points = goal.weights.points;
            const auto place = std::ranges::lower_bound(points, hz, {}, &WeightPoint::frequency_hz);
            const double kept = std::clamp(weight, least_weight, greatest_weight);
            if (place != points.end() && place->frequency_hz == hz) {
                place->weight = kept;
            } else {
                points.insert(place, WeightPoint{hz, kept});
            }
        });
}

} // namespace syntonon
