// Files on their way into the import of measurements.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/sweep.h"

#include <QString>
#include <QStringList>
#include <optional>

namespace syntonon {

struct MeasuredFiles {
    QStringList paths;
    // That was played when they were recorded; nothing: as each looks, and the Sweep page has it.
    std::optional<SweepPlan> sweep;
    std::optional<int> reference_channel; // of recordings, from 1
    QString channel, position;            // of one file that is known; else as its name has it
};

} // namespace syntonon
