// The phase that a channel's chain needs to be in phase with another channel.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/briefs.h"
#include "core/study/fit_stages.h"

namespace syntonon {

// That of the other channel, its chain and what was measured of it, less what was measured of this
// one; of both chains alone where neither is measured. Followed along, in degrees. Refused, naming
// "channel", where that channel is not there or this very one, cannot be designed or is being so,
// and where one of both is measured with phase and the other not; naming "from_hz", where both were
// not measured together anywhere in the range.
Expected<WishedLine> phase_to_follow(const Study& study, const Channel& channel,
                                     const PhaseAsked& asked, Briefs& briefs);

} // namespace syntonon
