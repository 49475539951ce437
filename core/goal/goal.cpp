// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/goal.h"

namespace syntonon {

Expected<void> check(const Goal& goal) {
    if (auto ok = check(goal.target); !ok) {
        return tl::unexpected(within("target", ok.error()));
    }
    if (auto ok = check(goal.corridor); !ok) {
        return tl::unexpected(within("corridor", ok.error()));
    }
    return {};
}

} // namespace syntonon
