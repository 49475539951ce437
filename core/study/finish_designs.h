// Makes all designs that are missing, and waits for them: for programs without a window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/briefs.h"

#include <functional>
#include <span>

namespace syntonon {

// `done` from 0 to 1; called several times a second in the caller's thread.
using Progress = std::function<void(const DesignJob& job, double done)>;

// Afterwards designing these views leaves no jobs.
void finish_designs(const Study& study, std::span<const ChannelView> views, Briefs& briefs,
                    const Progress& progress = {});

} // namespace syntonon
