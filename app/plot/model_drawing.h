// A modelled filter, drawn: at several levels, its harmonics, its poles by resonance, and moved
// beside a direct form.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/theme.h"
#include "core/design/driven_levels.h"
#include "core/engine/harmonics.h"
#include "core/engine/moved_filters.h"

#include <QPainter>
#include <QRectF>
#include <QString>
#include <variant>
#include <vector>

namespace syntonon {

struct LevelsPicture {
    std::vector<double> hz;
    struct Curve {
        double peak_db = 0; // of the sine, over full scale
        std::vector<double> level_db;
    };
    std::vector<Curve> curves; // from soft to loud
    double set_hz = 1000;
};
struct HarmonicsPicture {
    Harmonics found;
    double peak_db = 0;
};
struct PolesPicture {
    std::vector<PolesAtResonance> path;
    PolesAtResonance now;
};
struct MovedPicture {
    MovedRuns runs;
    double sample_rate_hz = 48000;
};
using ModelPicture = std::variant<LevelsPicture, HarmonicsPicture, PolesPicture, MovedPicture>;

void paint_model(QPainter& painter, const QRectF& room, const ModelPicture& picture,
                 const Theme& theme);

} // namespace syntonon
