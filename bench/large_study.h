// A study as large as a whole venue.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {

// Channels with as many stages, each with the demo's first measured curve, goal and takes.
inline Study large_study(int channels, int stages) {
    Study study = brightwater_study();
    const Channel pattern = *study.channels[0];
    study.channels.clear();
    for (int c = 0; c < channels; ++c) {
        Channel channel = pattern;
        channel.id = fmt::format("c{}", c + 1);
        channel.name = fmt::format("Output {}", c + 1);
        channel.stages.clear();
        for (int i = 0; i < stages; ++i) {
            Stage stage;
            stage.id = fmt::format("s{}", i + 1);
            stage.spec = parametric(ParametricShape::peak,
                                    25 * std::pow(700.0, (i + 0.02 * c) / std::max(1, stages)),
                                    i % 2 == 0 ? 1.5 : -1.5, 2.0);
            channel.stages.emplace_back(std::move(stage));
        }
        study.channels.emplace_back(std::move(channel));
    }
    return study;
}

} // namespace syntonon
