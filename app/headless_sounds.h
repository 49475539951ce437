// The signals of the bench as sound files.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <QString>

namespace syntonon {

class MainWindow;

// Of every channel that has chosen a signal what goes in, comes out and comes out of the chains
// that it is compared with: "docent_in.wav", "docent_take-fir.wav" (24 bits, dithered). What cannot
// be made is said on standard error, and left out. Returns how many files there are; refused when
// one cannot be written.
Expected<int> write_bench_sounds(MainWindow& window, const QString& folder);

} // namespace syntonon
