// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/weight_commands.h"

#include "app/model/goal_commands.h"
#include "app/model/selected_fir.h"
#include "app/widgets/words.h"

#include <algorithm>

namespace syntonon {

DrawnWeights drawn_weights(const Session& session) {
    using Of = DrawnWeights::Of;
    if (const FirSpec* fir = selected_fir(session); fir != nullptr && weighs_errors(*fir)) {
        return {Of::fir, {fir->wish.weights, {}, {}}, fir_weights};
    }
    if (const Goal* goal = current_goal(session)) {
        return {Of::goal, goal->weights, {least_weight, greatest_weight}};
    }
    return {};
}

void edit_drawn_weights(Session& session, const QString& name,
                        const std::function<void(WeightCurve&)>& change, const QString& gesture) {
    switch (drawn_weights(session).of) {
    case DrawnWeights::Of::nobody:
        break;
    case DrawnWeights::Of::goal:
        edit_goal(
            session, name, [&](Goal& goal) { change(goal.weights.points); }, gesture);
        break;
    case DrawnWeights::Of::fir:
        session.edit_stage(
            name, [&](Stage& stage) { change(std::get<FirSpec>(stage.spec.edit()).wish.weights); },
            gesture);
        break;
    }
}

void add_point(WeightCurve& points, double hz, double weight) {
    const auto place = std::ranges::lower_bound(points, hz, {}, &WeightPoint::frequency_hz);
    if (place != points.end() && place->frequency_hz == hz) {
        place->weight = weight;
    } else {
        points.insert(place, WeightPoint{hz, weight, {}});
    }
}

} // namespace syntonon
