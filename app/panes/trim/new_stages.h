// What “add a stage” offers.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/stage.h"

#include <QString>
#include <vector>

namespace syntonon {

struct NewStage {
    QString title;
    StageSpec spec; // with useful first values
};

const std::vector<NewStage>& new_stages();

} // namespace syntonon
