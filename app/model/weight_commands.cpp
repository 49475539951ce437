// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/weight_commands.h"

#include "app/model/goal_commands.h"
#include "app/model/selected_fir.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <utility>

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

void begin_fir_weights(Session& session) {
    const FirSpec* fir = selected_fir(session);
    if (fir == nullptr || !weighs_errors(*fir) || !fir->wish.weights.empty()) {
        return;
    }
    constexpr double low_hz = 20, high_hz = 20000; // where lanes begin and end
    WeightCurve points;
    const auto add_edges = [&](const auto& range) {
        for (const double hz : {range.from_hz, range.to_hz}) {
            if (hz >= low_hz) {
                add_point(points, std::min(hz, high_hz), 1);
            }
        }
    };
    const Goal* goal = current_goal(session);
    if (!fir->wish.use_goal) {
        std::ranges::for_each(fir->wish.bands, add_edges);
    } else if (goal != nullptr) {
        std::ranges::for_each(goal->corridor, add_edges);
    }
    if (!points.empty()) {
        edit_drawn_weights(session, tr("Begin weights"),
                           [&](WeightCurve& curve) { curve = std::move(points); });
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
