// Which measured curve is looked at.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <optional>

namespace syntonon {

// The one in hand; else the first position of the selected channel that has an impulse response,
// else its first one. Null where there is none.
inline const Curve* measured_in_view(Session& session) {
    const Study& study = session.study();
    if (const Curve* held = curve_of(study, session.curve_in_hand().id())) {
        return held;
    }
    const Channel* channel = session.channel();
    const Curve* first = nullptr;
    for (const Position& position : channel != nullptr ? channel->measured : MeasuredSet()) {
        const Curve* found = curve_of(study, position.curve);
        if (found != nullptr && found->origin && found->origin->measured->is_impulse()) {
            return found;
        }
        first = first == nullptr ? found : first;
    }
    return first;
}

// What it was measured as, where that is an impulse response that is there.
inline std::optional<SharedValue<Measurement>> impulse_of(const Curve* curve) {
    const bool there =
        curve != nullptr && curve->origin && !curve->origin->measured->impulse.samples.empty();
    return there ? std::optional(curve->origin->measured) : std::nullopt;
}

} // namespace syntonon
