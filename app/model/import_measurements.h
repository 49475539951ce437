// Measured positions into the study, in one step.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <string>
#include <vector>

namespace syntonon {

struct NewPosition {
    std::string channel; // its name; one that is not there is made; empty: of no channel
    std::string position;
    Curve curve; // its id and name follow
};

struct ImportWishes {
    std::string gate, microphone; // ids, or empty
    // What the channels have measured so far; curves that nothing else uses go, too.
    bool replace = false;
    bool beside = false; // impulse responses are kept beside the study
};

// The first of them is in hand afterwards. Refused, with nothing changed, where the gate leaves
// nothing of one of them.
Expected<void> import_measurements(Session& session, std::vector<NewPosition> positions,
                                   const ImportWishes& wishes);

} // namespace syntonon
