// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/judge_requirement.h"

#include "core/base/units.h"
#include "core/goal/corridor.h"
#include "core/goal/judging.h"

#include <fmt/format.h>
#include <variant>

namespace syntonon {

Quantity quantity_of(const RequirementSpec& spec) {
    const auto is = [&]<class... Kinds>(std::variant<Kinds...>*) {
        return (std::holds_alternative<Kinds>(spec) || ...);
    };
    using OfLevel =
        std::variant<RippleRequirement, AttenuationRequirement, LevelRequirement,
                     CrossingRequirement, TransitionWidthRequirement, PeakGainRequirement>;
    using OfDelay = std::variant<GroupDelayRequirement, DelayVariationRequirement>;
    return is(static_cast<OfLevel*>(nullptr))               ? Quantity::level
           : is(static_cast<OfDelay*>(nullptr))             ? Quantity::delay
           : std::holds_alternative<PhaseRequirement>(spec) ? Quantity::phase
                                                            : Quantity::other;
}

std::string obstacle_in(double from_hz, double to_hz, const Prediction& prediction) {
    if (std::string why = beyond_end(to_hz, prediction.axis()); !why.empty()) {
        return why;
    }
    if (from_hz < prediction.low_hz() || to_hz > prediction.high_hz()) {
        return fmt::format("the measured curve covers only {}; narrow the range or import more",
                           range_text(prediction.low_hz(), prediction.high_hz()));
    }
    return too_fine_in(from_hz, to_hz, prediction);
}

std::string too_fine_in(double from_hz, double to_hz, const Prediction& prediction) {
    const double ripples =
        prediction.chain().rippling_samples() * (to_hz - from_hz) / prediction.sample_rate_hz();
    if (ripples > Prediction::most_ripples) {
        return fmt::format(
            "a delay of {:.0f} samples makes {:.0f} ripples in the range, more than "
            "are looked at one by one ({:.0f}); narrow the range or shorten the delay",
            prediction.chain().rippling_samples(), ripples, Prediction::most_ripples);
    }
    return {};
}

Finding judge_requirement(const Requirement& requirement, const ResolvedGoal& goal,
                          const Prediction& prediction) {
    if (const auto ok = check(requirement); !ok) {
        return undecided(title_of(requirement), to_text(ok.error()));
    }
    const Case the_case{title_of(requirement), goal, prediction};
    Finding finding =
        std::visit([&](const auto& spec) { return judge(spec, the_case); }, requirement.spec);
    finding.quantity = quantity_of(requirement.spec);
    return finding;
}

} // namespace syntonon
