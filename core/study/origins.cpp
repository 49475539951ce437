// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/origins.h"

#include "core/base/in_parallel.h"
#include "core/curve/worked_out.h"

#include <fmt/format.h>

namespace syntonon {

Expected<Curve> worked_out(const Study& study, const Curve& curve) {
    if (!curve.origin) {
        return curve;
    }
    const NamedGate* gate = gate_of(study, curve.origin->gate);
    const Curve* microphone = microphone_of(study, curve.origin->microphone);
    if (gate == nullptr && !curve.origin->gate.empty()) {
        return refuse("gate", fmt::format("there is no gate “{}”", curve.origin->gate),
                      "name one of the study's gates or remove the key");
    }
    if (microphone == nullptr && !curve.origin->microphone.empty()) {
        return refuse("microphone",
                      fmt::format("there is no microphone “{}”", curve.origin->microphone),
                      "name one of the study's microphones or remove the key");
    }
    return worked_out(curve, gate != nullptr ? &gate->gate : nullptr, microphone);
}

Expected<void> work_out_curves(Study& study, const std::function<bool(const Curve&)>& chosen) {
    std::vector<std::size_t> places;
    for (std::size_t i = 0; i < study.curves.size(); ++i) {
        if (study.curves[i]->origin && chosen(*study.curves[i])) {
            places.push_back(i);
        }
    }
    std::vector<Expected<Curve>> made(places.size());
    in_parallel(places.size(),
                [&](std::size_t n) { made[n] = worked_out(study, *study.curves[places[n]]); });
    for (std::size_t n = 0; n < places.size(); ++n) {
        if (!made[n]) {
            return tl::unexpected(within(fmt::format("curves[{}]", places[n]), made[n].error()));
        }
    }
    for (std::size_t n = 0; n < places.size(); ++n) {
        study.curves[places[n]] = std::move(*made[n]);
    }
    return {};
}

} // namespace syntonon
