// The full demo without a display: pictures, verdict and exports into a folder.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

namespace syntonon {

// Returns the exit code: 0 done, 2 when something could not be read or written (said on standard
// error).
int run_headless(const QString& study, const QString& folder);

} // namespace syntonon
