// What a chain makes of what was measured, drawn before and after: for the window and for paper.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/theme.h"
#include "core/study/before_after.h"

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <vector>

namespace syntonon {

enum class BeforeAfterForm { level, impulse, step };

struct BeforeAfterStyle {
    const Theme& theme;
    QColor after;                       // the channel's colour
    double low_hz = 20, high_hz = 20e3; // shown of the levels
};

// What is left of something over frequency, in dB about 0, as large as it is.
struct LeftOver {
    std::vector<double> hz, db;
};
void paint_left_over(QPainter& painter, const QRectF& room, const LeftOver& left,
                     const BeforeAfterStyle& style);

// Thin lines: positions. Numbers of the axes stand within the room, at the left and below.
void paint_before_after(QPainter& painter, const QRectF& room, const BeforeAfter& result,
                        BeforeAfterForm form, const BeforeAfterStyle& style);

} // namespace syntonon
