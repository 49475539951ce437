// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/origins.h"

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
    std::vector<SharedValue<Curve>> curves = study.curves;
    for (std::size_t i = 0; i < curves.size(); ++i) {
        if (!curves[i]->origin || !chosen(*curves[i])) {
            continue;
        }
        auto made = worked_out(study, *curves[i]);
        if (!made) {
            return tl::unexpected(within(fmt::format("curves[{}]", i), made.error()));
        }
        curves[i] = std::move(*made);
    }
    study.curves = std::move(curves);
    return {};
}

} // namespace syntonon
