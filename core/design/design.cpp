// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/design.h"

namespace syntonon {

tl::unexpected<Problem> stopped() {
    return refuse("", "was stopped", "start it again");
}

} // namespace syntonon
