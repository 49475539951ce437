// Files on their way into the import of measurements.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <QStringList>
#include <optional>

namespace syntonon {

struct MeasuredFiles {
    QStringList paths;
    bool are_recordings = false;          // of the Sweep page's sweep; else as each looks
    std::optional<int> reference_channel; // of recordings, from 1
    QString channel, position;            // of one file that is known; else as its name has it
};

} // namespace syntonon
