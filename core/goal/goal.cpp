// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/goal.h"

#include <fmt/format.h>

namespace syntonon {

Expected<void> check(const Goal& goal) {
    if (auto ok = check(goal.target); !ok) {
        return tl::unexpected(within("target", ok.error()));
    }
    if (auto ok = check(goal.corridor); !ok) {
        return tl::unexpected(within("corridor", ok.error()));
    }
    for (std::size_t i = 0; i < goal.requirements.size(); ++i) {
        if (auto ok = check(goal.requirements[i]); !ok) {
            return tl::unexpected(within(fmt::format("requirements[{}]", i), ok.error()));
        }
    }
    return {};
}

} // namespace syntonon
