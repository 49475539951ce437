// The ways of a crossover and their sum, drawn.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/theme.h"
#include "core/study/crossover_sum.h"

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <QString>
#include <vector>

namespace syntonon {

enum class CrossoverForm { level, phase, delay, lobes };

struct CrossoverPicture {
    struct Way {
        QString name;
        QColor colour;
        std::vector<double> level_db;
    };
    std::vector<double> hz;
    std::vector<Way> ways;
    WaySum on_axis, off_axis;
    double angle_deg = 0; // of the latter
    LobeMap lobes;
    double delay_s = 0; // of the sum on axis at its highest frequency: taken out of the phase
};

// What is drawn of ways that were summed; names and colours are the caller's.
CrossoverPicture picture_of(const SummedWays& summed, double angle_deg);

// Numbers of the axes stand within the room, at the left and below.
void paint_crossover(QPainter& painter, const QRectF& room, const CrossoverPicture& picture,
                     CrossoverForm form, const Theme& theme);

} // namespace syntonon
