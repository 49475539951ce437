// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/design.h"

namespace syntonon {

Expected<void> check_sampled(const Brief& brief, const char* why) {
    if (brief.domain == Domain::analog) {
        return refuse("", std::string(why) + ", and this channel lives in continuous time",
                      "put the stage into a sampled channel");
    }
    return {};
}

tl::unexpected<Problem> stopped() {
    return refuse("", "was stopped", "start it again");
}

} // namespace syntonon
