// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/modelled_settings.h"

#include "core/base/units.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {

Expected<void> check_modelled(double frequency_hz, int oversampling, const Axis& axis) {
    const double end = axis.end_hz();
    if (!(frequency_hz < end)) {
        return refuse(
            "frequency_hz",
            axis.is_analog()
                ? fmt::format("{} Hz is too high", frequency_hz)
                : fmt::format("{} Hz is not below half the sample rate ({} Hz)", frequency_hz, end),
            axis.is_analog() ? fmt::format("stay below {} Hz", end)
                             : "choose a lower frequency or a higher sample rate");
    }
    if (oversampling != 1 && oversampling != 2 && oversampling != 4 && oversampling != 8) {
        return refuse("oversampling", fmt::format("{} is not one of them", oversampling),
                      "choose 1, 2, 4 or 8");
    }
    return {};
}

std::size_t doublings_of(int oversampling) {
    return oversampling >= 8 ? 3 : oversampling >= 4 ? 2 : oversampling >= 2 ? 1 : 0;
}

WorkingStep integrator_step(double frequency_hz, double g, bool is_prewarped, int oversampling,
                            const Axis& axis) {
    const double inner_hz = axis.sample_rate_hz * oversampling;
    const double angle = pi * frequency_hz / inner_hz;
    const double lies_hz = inner_hz / pi * std::atan(angle);
    return {
        "Integrators",
        {{"fi", "rate at which it is computed", inner_hz, "Hz"},
         {"g",
          is_prewarped ? "of an integrator, from tan(π f / fi)" : "of an integrator, from π f / fi",
          g, ""},
         {"f′", is_prewarped ? "where it would lie without prewarping" : "where it lies", lies_hz,
          "Hz"},
         {"Δ", is_prewarped ? "by so much lower" : "off by",
          1200 * std::log2(lies_hz / frequency_hz), "cents"}}};
}

} // namespace syntonon
