// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/goal.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<void> placed(std::string_view place, Expected<void> result) {
    return result ? result : tl::unexpected(within(place, result.error()));
}

} // namespace

Expected<void> check(const Goal& goal) {
    if (auto ok = placed("target", check(goal.target)); !ok) {
        return ok;
    }
    if (goal.phase_target) {
        if (auto ok = placed("phase_target", check(*goal.phase_target, "phase_deg")); !ok) {
            return ok;
        }
    }
    if (goal.delay_target) {
        if (auto ok = placed("delay_target", check(*goal.delay_target, "delay_ms")); !ok) {
            return ok;
        }
    }
    if (auto ok = placed("corridor", check(goal.corridor)); !ok) {
        return ok;
    }
    if (auto ok = placed("weights", check(goal.weights)); !ok) {
        return ok;
    }
    for (std::size_t i = 0; i < goal.requirements.size(); ++i) {
        if (auto ok = placed(fmt::format("requirements[{}]", i), check(goal.requirements[i]));
            !ok) {
            return ok;
        }
    }
    return {};
}

} // namespace syntonon
