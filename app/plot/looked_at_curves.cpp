// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/looked_at_curves.h"

#include "core/curve/curve_delay.h"
#include "core/curve/phase_parts.h"

#include <algorithm>

namespace syntonon {
namespace {

constexpr double points_an_octave = 96;

LookedAt looked_at(const SharedValue<Curve>& curve, const Smoothing& smoothing, PhaseShown phase) {
    LookedAt made;
    made.curve = smoothing.is_none()
                     ? curve
                     : SharedValue<Curve>(smoothed(*curve, smoothing, points_an_octave));
    if (made.curve->has_phase()) {
        made.delay_s = group_delay_s(*made.curve);
        // Any rate whose half lies above the curve will do.
        constexpr double above = 2.0001;
        const auto parts = phase != PhaseShown::whole
                               ? phase_parts(*made.curve, above * made.curve->high_hz())
                               : Expected<PhaseParts>(PhaseParts());
        if (parts && phase != PhaseShown::whole) {
            Curve& own = made.curve.edit();
            own.phase_deg = phase == PhaseShown::excess ? parts->excess_deg : parts->minimum_deg;
            made.delay_s = phase == PhaseShown::excess ? parts->excess_delay_s : group_delay_s(own);
        }
    }
    made.reader = std::make_shared<const CurveReader>(*made.curve);
    return made;
}

} // namespace

const LookedAt& LookedAtCurves::of(const QString& key, const SharedValue<Curve>& curve,
                                   const MeasureView& view) {
    const auto found = kept_.find(key);
    if (found != kept_.end() && found->second.made_of.same_as(curve)
        && found->second.smoothing == view.smoothing() && found->second.phase == view.phase()) {
        return found->second.looked;
    }
    Kept kept{curve, view.smoothing(), view.phase(),
              looked_at(curve, view.smoothing(), view.phase())};
    return kept_.insert_or_assign(key, std::move(kept)).first->second.looked;
}

const SharedValue<Curve>* LookedAtCurves::average_of(const SharedMeasured& measured, AverageOf of) {
    if (measured != averages_of_) {
        averages_of_ = measured;
        averages_.clear();
    }
    if (measured == nullptr || measured->positions.size() < 2) {
        return nullptr;
    }
    auto found = averages_.find(of);
    if (found == averages_.end()) {
        std::optional<SharedValue<Curve>> made;
        if (of == measured->average) {
            made = measured->curve;
        } else if (of == AverageOf::vectors) {
            made = measured->timing;
        } else {
            std::vector<WeightedCurve> weighted;
            for (const MeasuredPosition& position : measured->positions) {
                weighted.push_back({&*position.curve, position.weight});
            }
            if (auto average = averaged(weighted, of)) {
                made = std::move(*average);
            }
        }
        found = averages_.emplace(of, std::move(made)).first;
    }
    return found->second ? &*found->second : nullptr;
}

void LookedAtCurves::forget_but(const std::vector<QString>& keys) {
    std::erase_if(
        kept_, [&](const auto& item) { return std::ranges::find(keys, item.first) == keys.end(); });
}

} // namespace syntonon
